'use client';
import { Fragment, useState } from 'react';
import type { Dimension } from '@/core/math';
import { changePart, type Offset, type Part } from '@/core/piece';
import { NumField } from '../../kit';
import { usePiece } from '../../piece/context';
import { useFit } from '../state';
import { Vernier } from './vernier';

export const AXES = ['side', 'up', 'fore'] as const;
const D2R = Math.PI / 180;

interface Column {
  key: keyof Offset;
  name: string;
  dimension: Dimension;
  unit: string;
  decimals: number;
  /** One press of an arrow key, in SI. */
  step: number;
  min: number;
  max: number;
  /** One of the field's units in SI, and the vernier's small tick in that unit. */
  perUnit: number;
  tick: number;
}

const COLUMNS: readonly Column[] = [
  {
    key: 'positionM',
    name: 'Place',
    dimension: 'length',
    unit: 'mm',
    decimals: 1,
    step: 0.001,
    min: -1000,
    max: 1000,
    perUnit: 0.001,
    tick: 0.1,
  },
  { key: 'turnRad', name: 'Turn', dimension: 'angle', unit: '°', decimals: 1, step: D2R, min: -1000, max: 1000, perUnit: D2R, tick: 0.1 },
  { key: 'size', name: 'Size', dimension: 'factor', unit: '×', decimals: 3, step: 0.01, min: 1e-6, max: 1e6, perUnit: 1, tick: 0.001 },
];

/** One number of an offset changed; linked sizes keep their proportion. */
function withValue(o: Offset, key: keyof Offset, axis: number, x: number, linked: boolean): Offset {
  const old = o[key];
  const next = key === 'size' && linked ? old.map((s) => (s * x) / old[axis]) : old.map((y, k) => (k === axis ? x : y));
  return { ...o, [key]: next };
}

/** The nine fields of a placement, and the vernier of the one in hand. */
export function OffsetFields({ part }: { part: Part }) {
  const commit = usePiece((s) => s.commit);
  const linked = useFit((s) => s.linked);
  const draft = useFit((s) => s.draft);
  const dragSoon = useFit((s) => s.dragSoon);
  const drop = useFit((s) => s.drop);
  // the vernier stays when its field is left: buttons below must not move under a press
  const [inHand, setInHand] = useState<{ column: Column; axis: number }>({ column: COLUMNS[0], axis: 2 });
  const o = draft?.id === part.id ? draft.offset : part.offset;
  const put = (offset: Offset) => commit(changePart(part.id, { offset }));
  const why = part.locked ? 'Unlock the part first' : undefined;
  return (
    <>
      <div className="grid gap-x-[6px] gap-y-[5px] items-center" style={{ gridTemplateColumns: '34px 1fr 1fr 1fr' }}>
        <span />
        {COLUMNS.map((c) => (
          <span key={c.key} className="head text-right">
            {c.name}, {c.unit}
          </span>
        ))}
        {AXES.map((axis, i) => (
          <Fragment key={axis}>
            <span className={`flex flex-col justify-center text-[12.5px] font-semibold ${axis}-t leading-[14px]`}>
              {axis}
              <svg width="26" height="4" viewBox="0 0 26 4" aria-hidden="true">
                <path d="M0 2h26" className={`${axis}-l`} strokeWidth="2" />
              </svg>
            </span>
            {COLUMNS.map((c) => (
              <NumField
                key={c.key}
                label={`${c.name} ${axis}`}
                value={o[c.key][i]}
                dimension={c.dimension}
                unit={c.unit}
                decimals={c.decimals}
                step={c.step}
                min={c.min}
                max={c.max}
                disabledWhy={why}
                onChange={(x) => put(withValue(part.offset, c.key, i, x, linked))}
                onFocus={() => setInHand({ column: c, axis: i })}
              />
            ))}
          </Fragment>
        ))}
      </div>
      {!part.locked && (
        <Vernier
          label={`${inHand.column.name} ${AXES[inHand.axis]}`}
          value={o[inHand.column.key][inHand.axis] / inHand.column.perUnit}
          tick={inHand.column.tick}
          decimals={inHand.column.key === 'size' ? 2 : 0}
          onDrag={(v) =>
            dragSoon({
              id: part.id,
              offset: withValue(part.offset, inHand.column.key, inHand.axis, clamp(v * inHand.column.perUnit, inHand.column), linked),
            })
          }
          onDrop={(v) => {
            drop();
            if (v === null) return;
            put(withValue(part.offset, inHand.column.key, inHand.axis, clamp(v * inHand.column.perUnit, inHand.column), linked));
          }}
        />
      )}
    </>
  );
}

const clamp = (x: number, c: Column) => Math.min(c.max, Math.max(c.min, x));
