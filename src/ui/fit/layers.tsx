'use client';
/** The stacking as a plain list: layers with what is drawn in them, the last drawn at the top. */
import { ArrowDown, ArrowUp, Eye, EyeOff, Plus, Trash2 } from 'lucide-react';
import { ulid } from 'ulid';
import { moveLayer, showLayer, takeOutLayer } from '@/core/fit';
import {
  add,
  CAMERA_LAYER_ID,
  change,
  holds,
  LAYER_LABELS,
  type Layer,
  Layer as LayerSchema,
  layerName,
  MAIN_LAYER_ID,
  MATTE_LABELS,
  MATTE_NAMES,
  type MatteName,
  rackOf,
} from '@/core/piece';
import { Mark, Menu, NumField, type OwnIcon } from '../kit';
import { useDocument, usePiece } from '../piece/context';
import { PART_MARKS } from './kinds';

const MARKS: Readonly<Record<Layer['kind'], OwnIcon>> = { camera: 'form', screen: 'screen', parts: 'stacking', matte: 'matte' };

/** What can be added: each matte is a layer of its own. */
const ADDED: readonly { kind: Layer['kind']; matte?: MatteName }[] = [
  { kind: 'parts' },
  ...MATTE_NAMES.map((matte) => ({ kind: 'matte' as const, matte })),
  { kind: 'screen' },
  { kind: 'camera' },
];

export function Layers() {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const front = doc.orders.layers.map((id, i) => ({ layer: doc.layers[id], place: i + 1 })).reverse();
  return (
    <section aria-label="Stacking">
      <div className="flex items-center mb-1">
        <p className="text-micro soft">Front at the top; each is drawn on what is below it.</p>
        <span className="ml-auto">
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
                  mark: <Mark name={MARKS[kind]} className="soft" />,
                  act: () => commit(add('layers', LayerSchema.parse({ id: ulid(), kind, ...(matte && { matte: { name: matte } }) }))),
                })),
              },
            ]}
          />
        </span>
      </div>
      <ol className="grid gap-[3px]">
        {front.map(({ layer, place }) => (
          <Row key={layer.id} layer={layer} place={place} last={doc.orders.layers.length} />
        ))}
      </ol>
    </section>
  );
}

function Row({ layer, place, last }: { layer: Layer; place: number; last: number }) {
  const doc = useDocument();
  const commit = usePiece((s) => s.commit);
  const select = usePiece((s) => s.select);
  const selected = usePiece((s) => s.selected);
  const name = layerName(layer);
  const parts = rackOf(doc).filter((p) => p.layer === layer.id && !holds(p));
  const fixed = layer.id === MAIN_LAYER_ID || layer.id === CAMERA_LAYER_ID;
  const stuck = parts.length > 0 && !doc.orders.layers.some((id) => id !== layer.id && doc.layers[id].kind === layer.kind);
  const act = (label: string, can: boolean, icon: React.ReactNode, go: () => void) => (
    <button
      type="button"
      className="btn btn-bare btn-sm btn-icon"
      style={{ height: 24, minHeight: 24, width: 24, padding: 0 }}
      aria-label={`${label} ${name}`}
      title={label}
      aria-disabled={!can}
      onClick={() => can && go()}
    >
      {icon}
    </button>
  );
  return (
    <li
      className="bg-[color:var(--color-base-100)] border border-[color:var(--hair)] px-1.5 py-[3px] min-w-0"
      data-off={layer.visible ? undefined : ''}
      style={layer.visible ? undefined : { opacity: 0.6 }}
      aria-label={`Layer ${place}, ${name}`}
    >
      <div className="flex items-center gap-[3px]">
        <Mark name={MARKS[layer.kind]} className="soft" />
        <span className="named text-[13.5px] leading-[16px] flex-1 min-w-0 break-words">{name}</span>
        {act('Draw later:', place < last, <ArrowUp className="ico" />, () => commit(moveLayer(doc, layer.id, 1)))}
        {act('Draw earlier:', place > 1, <ArrowDown className="ico" />, () => commit(moveLayer(doc, layer.id, -1)))}
        {act(layer.visible ? 'Hide layer' : 'Show layer', true, layer.visible ? <Eye className="ico" /> : <EyeOff className="ico" />, () =>
          commit(showLayer(layer.id, !layer.visible)),
        )}
        {!fixed && act('Delete layer', !stuck, <Trash2 className="ico" />, () => commit(takeOutLayer(doc, layer.id)))}
      </div>
      {layer.kind === 'parts' && (
        <label className="flex items-center gap-1 text-micro soft pl-[19px]">
          <span>drawn</span>
          <select
            className="field h-[24px]! px-1! text-micro! py-0!"
            style={{ width: 142 }}
            aria-label={`Sorting of ${name}`}
            value={layer.sort}
            onChange={(e) => commit(change('layers', layer.id, { sort: e.target.value as 'depth' | 'order' }))}
          >
            <option value="depth">by distance</option>
            <option value="order">in the order of the rack</option>
          </select>
        </label>
      )}
      {layer.kind === 'matte' && (
        <span className="flex items-center gap-2 text-micro soft pl-[19px]">
          <label className="flex items-center gap-1 whitespace-nowrap">
            <input
              type="checkbox"
              className="check"
              checked={layer.matte.invert}
              onChange={(e) => commit(change('layers', layer.id, { matte: { ...layer.matte, invert: e.target.checked } }))}
            />
            inverted
          </label>
          <span className="ml-auto flex items-center gap-1">
            <span>soft</span>
            <span className="w-[44px]">
              <NumField
                label={`Softness of ${name}`}
                value={layer.matte.featherPx}
                dimension="factor"
                unit="×"
                decimals={0}
                step={1}
                min={0}
                max={64}
                onChange={(featherPx) => commit(change('layers', layer.id, { matte: { ...layer.matte, featherPx } }))}
              />
            </span>
          </span>
        </span>
      )}
      {parts.map((p) => (
        <button
          key={p.id}
          type="button"
          className={`flex items-center gap-1.5 pl-[19px] text-left text-small leading-[19px] min-h-[24px] min-w-0 ${selected === p.id ? 'font-semibold' : ''}`}
          onClick={() => select(p.id)}
        >
          <Mark name={PART_MARKS[p.kind]} className="soft" />
          <span className="truncate">{p.name}</span>
        </button>
      ))}
      {(layer.kind === 'parts' || layer.kind === 'screen') && parts.length === 0 && (
        <span className="text-micro soft pl-[19px]">empty</span>
      )}
    </li>
  );
}
