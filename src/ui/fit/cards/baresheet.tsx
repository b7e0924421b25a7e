'use client';
/** The body under a garment, painted where it hides nothing: each stroke is an edit, undone by itself. */
import { useEffect, useMemo, useRef, useState } from 'react';
import { bareUnder, outsideAreas } from '@/core/fit';
import { BARE, type BareBrush, type BodyAsk, bareShare, type DrawnBody, packBare, strokeBare, unpackBare } from '@/core/form/body';
import type { Model } from '@/core/model';
import { changePart, type PartOf } from '@/core/piece';
import type { BodyArea } from '@/core/words/humanoid';
import type { HeatSurface } from '@/stage';
import { type Cloth, forms } from '@/worker/browser';
import { Check, Choice, Dialog, NumField } from '../../kit';
import { say } from '../../kit/say';
import { usePiece } from '../../piece/context';
import { useShownBody, useWearer } from '../../piece/wearers';
import { type Place, SurfacePicture } from './surfacepicture';

type Worn = NonNullable<PartOf<'model'>['worn']>;

const STROKES = [
  { value: 'bare', label: 'Hide nothing', title: 'There the body lets what lies behind it be seen: the garment over it' },
  { value: 'hides', label: 'Hide again' },
] as const;
const SKIN = [0.79, 0.64, 0.52] as const;
const BARED = [0.09, 0.24, 0.42] as const;

/** What is bare by its areas, against what is painted. */
const BY_AREA = 0.45;

/** The body with what is bare of it darker, less where its areas say so, cloth seen through before it. */
function heatOf(body: DrawnBody, levels: Uint8Array, areas: readonly BodyArea[], cloth: Cloth | null): HeatSurface {
  const colors = new Float32Array(levels.length * 3);
  const left = areas.length > 0 ? new Set(outsideAreas(body.indices, body, areas)) : null;
  levels.forEach((level, v) => {
    const t = Math.max(level / BARE, left && !left.has(v) ? BY_AREA : 0);
    for (let k = 0; k < 3; k++) colors[v * 3 + k] = SKIN[k] + (BARED[k] - SKIN[k]) * t;
  });
  const { positions, normals, indices: triangles } = body;
  return { positions, normals, triangles, colors, ghost: cloth ? { ...cloth, before: true } : undefined };
}

/** Cloth over the body at rest, and where it lies over the skin. */
function useCloth(model: Model, worn: Worn, on: BodyAsk): Cloth | null {
  const [cloth, setCloth] = useState<Cloth | null>(null);
  const { bones, hides } = worn;
  useEffect(() => {
    let gone = false;
    forms.wornBare(model, { bones, hides, under: [] }, on).then(
      (c) => !gone && setCloth(c),
      (e: Error) => say.error(e.message),
    );
    return () => {
      gone = true;
    };
  }, [model, bones, hides, on]);
  return cloth;
}

export function BareSheet({ part, worn, model, onClose }: { part: PartOf<'model'>; worn: Worn; model: Model; onClose: () => void }) {
  const on = useShownBody();
  const commit = usePiece((s) => s.commit);
  const undo = usePiece((s) => s.undo);
  const body = useWearer(on, true)?.body ?? null;
  const cloth = useCloth(model, worn, on);
  const [brush, setBrush] = useState<BareBrush>({ radiusM: 0.04, bares: true, mirrored: true });
  const [sees, setSees] = useState(true);
  const vertices = body ? body.positions.length / 3 : 0;
  const kept = useMemo(() => (worn.bare && unpackBare(worn.bare, vertices)) || new Uint8Array(vertices), [worn.bare, vertices]);
  /** What a stroke has made of it so far. */
  const [drawn, setDrawn] = useState<Uint8Array | null>(null);
  const levels = drawn ?? kept;
  const put = (next: Uint8Array | null) => {
    const bare = next?.some((l) => l > 0) ? packBare(next) : null;
    if (bare !== worn.bare) commit(changePart(part.id, { worn: { ...worn, bare } }));
  };
  const last = useRef<Place | null>(null);
  const to = (at: Place) => {
    if (!body) return;
    const next = (drawn ?? kept).slice();
    if (strokeBare(next, body, last.current ?? at, at, brush)) setDrawn(next);
    last.current = at;
  };
  const end = () => {
    last.current = null;
    if (drawn) put(drawn);
    setDrawn(null);
  };
  const heat = useMemo(() => body && heatOf(body, levels, bareUnder(worn), sees ? cloth : null), [body, levels, worn, cloth, sees]);
  return (
    <Dialog title={`The body under ${part.name}`} wide onClose={onClose}>
      <div className="grid gap-4" style={{ gridTemplateColumns: 'minmax(0, 1fr) 250px' }}>
        <SurfacePicture
          heat={heat ?? null}
          label="The body at rest, darker where it hides nothing"
          what="The body"
          stroke={part.locked ? null : { to, end, words: 'Draw over the body; beside it the table is turned.' }}
        />
        <div className="text-small flex flex-col gap-2">
          <p className="soft">
            Where it is dark the body hides nothing: {((body ? bareShare(body, levels) : 0) * 100).toFixed(0)} % of it.
            {bareUnder(worn).length > 0 && ' Paler: by the areas that are left out anyway.'}
          </p>
          <button
            type="button"
            className="btn btn-line btn-sm"
            aria-disabled={!cloth || part.locked}
            title="Wherever cloth lies over the skin, but for a ring along its openings"
            onClick={() => cloth && !part.locked && put(cloth.levels)}
          >
            {cloth ? 'Where it lies over' : 'Cloth is laid on the body …'}
          </button>
          <Choice
            label="A stroke"
            options={STROKES}
            value={brush.bares ? 'bare' : 'hides'}
            onChange={(v) => setBrush({ ...brush, bares: v === 'bare' })}
          />
          <div>
            <span className="soft" aria-hidden>
              Radius
            </span>
            <NumField
              label="Radius"
              dimension="length"
              unit="mm"
              after="mm"
              decimals={0}
              step={5}
              min={0.005}
              max={0.3}
              value={brush.radiusM}
              onChange={(radiusM) => setBrush({ ...brush, radiusM })}
            />
          </div>
          <Check label="On both sides" checked={brush.mirrored} onChange={(mirrored) => setBrush({ ...brush, mirrored })} />
          <Check label="Show the garment" checked={sees} onChange={setSees} />
          <div className="flex gap-2">
            <button type="button" className="btn btn-line btn-sm" onClick={() => undo()}>
              Undo
            </button>
            <button
              type="button"
              className="btn btn-line btn-sm"
              aria-disabled={worn.bare === null || part.locked}
              onClick={() => worn.bare !== null && !part.locked && put(null)}
            >
              Hide everywhere again
            </button>
          </div>
        </div>
      </div>
    </Dialog>
  );
}
