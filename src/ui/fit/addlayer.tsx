'use client';
/** A layer more: of parts, of the screen, of the camera's picture, or of some of the picture again. */
import { Plus } from 'lucide-react';
import { ulid } from 'ulid';
import { add, LAYER_LABELS, type Layer, Layer as LayerSchema, MATTE_LABELS, MATTE_NAMES, type MatteName } from '@/core/piece';
import { Mark, Menu, type OwnIcon } from '../kit';
import { usePiece } from '../piece/context';

export const LAYER_MARKS: Readonly<Record<Layer['kind'], OwnIcon>> = {
  camera: 'form',
  screen: 'screen',
  parts: 'stacking',
  matte: 'matte',
};

/** What can be added: each matte is a layer of its own. */
const ADDED: readonly { kind: Layer['kind']; matte?: MatteName }[] = [
  { kind: 'parts' },
  ...MATTE_NAMES.map((matte) => ({ kind: 'matte' as const, matte })),
  { kind: 'screen' },
  { kind: 'camera' },
];

export function AddLayer() {
  const commit = usePiece((s) => s.commit);
  return (
    <Menu
      label="Add a layer"
      align="right"
      className="btn btn-bare btn-sm btn-icon"
      button={<Plus className="ico" />}
      groups={[
        {
          id: 'Layers',
          entries: ADDED.map(({ kind, matte }) => ({
            id: matte ?? kind,
            label: matte ? MATTE_LABELS[matte] : LAYER_LABELS[kind],
            mark: <Mark name={LAYER_MARKS[kind]} className="soft" />,
            act: () => commit(add('layers', LayerSchema.parse({ id: ulid(), kind, ...(matte && { matte: { name: matte } }) }))),
          })),
        },
      ]}
    />
  );
}
