'use client';
/** Every chain root to tip, lengths to scale; its bones are one more or fewer by a press. */
import { Minus, Plus, Trash2 } from 'lucide-react';
import type { Spar, SparChain } from '@/core/rig';

const PLAN_PX = 128;

export function SailPlan({
  spars,
  chains,
  numbers,
  chosen,
  busy,
  onChoose,
  onMore,
  onStrike,
}: {
  spars: readonly Spar[];
  chains: readonly SparChain[];
  /** As they stand on the picture. */
  numbers: readonly number[];
  chosen: number | null;
  busy: boolean;
  onChoose: (chain: number) => void;
  /** Undefined: they are the file's own. */
  onMore?: (chain: SparChain, by: 1 | -1) => void;
  onStrike?: (chain: SparChain) => void;
}) {
  const longest = Math.max(...chains.map((c) => c.lengthM), 1e-9);
  return (
    <table className="w-full text-small" aria-label="Sail plan">
      <thead>
        <tr className="soft text-left">
          <th className="font-normal py-1 w-[34px]" aria-label="Number" />
          <th className="font-normal">Chain</th>
          <th className="font-normal">Root to tip</th>
          <th className="font-normal text-right whitespace-nowrap pl-2">Length, mm</th>
          <th className="font-normal text-right whitespace-nowrap pl-2" title="How far straight bones stray from the shape">
            Off, mm
          </th>
          <th className="font-normal text-right pr-1">Bones</th>
          <th aria-label="Acts" className="w-[30px]" />
        </tr>
      </thead>
      <tbody>
        {chains.map((c, i) => {
          return (
            <tr
              key={c.name}
              aria-selected={i === chosen}
              className={`border-t border-[color:var(--hair)] ${i === chosen ? 'indexed' : ''}`}
            >
              <td className="py-[3px]">
                <button
                  type="button"
                  className="num w-[22px] h-[22px] rounded-full border border-[color:var(--brass-line)] cursor-pointer"
                  aria-label={`Choose chain ${numbers[i]}, ${c.name}`}
                  aria-pressed={i === chosen}
                  onClick={() => onChoose(i)}
                >
                  {numbers[i]}
                </button>
              </td>
              <td className="named text-[14px] max-w-[120px] truncate pr-2" title={c.name}>
                {c.name}
              </td>
              <td>
                <Scale spars={c.spars.map((s) => spars[s])} px={(c.lengthM / longest) * PLAN_PX} lengthM={c.lengthM} />
              </td>
              <td className="num text-right">{(c.lengthM * 1000).toFixed(0)}</td>
              <td className="num text-right">{offOf(c)}</td>
              <td className="text-right whitespace-nowrap">
                {onMore && (
                  <button
                    type="button"
                    className="btn btn-bare btn-sm btn-icon"
                    aria-label={`One bone fewer in ${c.name}`}
                    disabled={busy || c.spars.length <= 1}
                    onClick={() => onMore(c, -1)}
                  >
                    <Minus className="ico" />
                  </button>
                )}
                <span className="num inline-block min-w-[22px] text-right px-1">{c.spars.length}</span>
                {onMore && (
                  <button
                    type="button"
                    className="btn btn-bare btn-sm btn-icon"
                    aria-label={`One bone more in ${c.name}`}
                    disabled={busy || c.spars.length >= 24}
                    onClick={() => onMore(c, 1)}
                  >
                    <Plus className="ico" />
                  </button>
                )}
              </td>
              <td className="text-right">
                {onStrike && (
                  <button
                    type="button"
                    className="btn btn-bare btn-sm btn-icon"
                    aria-label={`Strike ${c.name}`}
                    disabled={busy}
                    onClick={() => onStrike(c)}
                  >
                    <Trash2 className="ico" />
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** “0.8”; a dash where the file does not say. */
const offOf = (c: SparChain) => c.strayMm?.[c.spars.length - 1]?.toFixed(1) ?? '–';

function Scale({ spars, px, lengthM }: { spars: readonly Spar[]; px: number; lengthM: number }) {
  let at = 0;
  const joints = [0];
  for (const s of spars) {
    at += Math.hypot(s.tail[0] - s.head[0], s.tail[1] - s.head[1], s.tail[2] - s.head[2]);
    joints.push(at);
  }
  const x = (m: number) => 4 + (lengthM > 0 ? (m / lengthM) * px : 0);
  return (
    <svg width={PLAN_PX + 10} height="12" aria-hidden="true">
      <line x1={x(0)} x2={x(at)} y1="6" y2="6" stroke="var(--ink)" strokeWidth="1" />
      {joints.map((j) => (
        <circle key={j} cx={x(j)} cy="6" r="2.6" fill="var(--color-base-100)" stroke="var(--ink)" strokeWidth="1.2" />
      ))}
    </svg>
  );
}
