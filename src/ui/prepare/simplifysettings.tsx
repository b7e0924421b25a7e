'use client';
/** Settings of the simplify step: by what, where detail is kept, and meshes that get a number or a weight of their own. */
import type { RecipeStep, SimplifySettings } from '@/core/piece';
import { Check, PickField } from '../kit';
import { grid, Num } from './fields';
import type { ModelParts, Painting, Step } from './settingtypes';

export function Simplify({
  step,
  parts,
  painting,
  onChange,
}: {
  step: Step<'simplify'>;
  parts: ModelParts;
  painting: Painting;
  onChange: (s: RecipeStep) => void;
}) {
  const s = step.settings;
  const set = (c: Partial<SimplifySettings>) => onChange({ ...step, settings: { ...s, ...c } });
  const byRatio = s.ratio !== null;
  const own = (mesh: string) => s.meshes.find((m) => m.mesh === mesh)?.triangles ?? null;
  const weight = (mesh: string) => s.keep.find((m) => m.mesh === mesh)?.weight ?? 1;
  const named = parts.meshes.filter((m, i) => m.name && parts.meshes.findIndex((x) => x.name === m.name) === i);
  return (
    <>
      {grid(
        <>
          <PickField
            wide
            label="Simplified by"
            value={byRatio ? 'ratio' : 'error'}
            options={[
              ['ratio', 'to a share of its triangles'],
              ['error', 'as far as an error allows'],
            ]}
            onChange={(x) => set(x === 'ratio' ? { ratio: 0.5, errorMm: null } : { ratio: null, errorMm: 0.5 })}
          />
          <Check label="Open borders stay" checked={s.keepBorders} onChange={(keepBorders) => set({ keepBorders })} />
          <Check label="Fitted to the original afterwards" checked={s.refit} onChange={(refit) => set({ refit })} />
        </>,
        3,
      )}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1.5 pt-2">
        <button
          type="button"
          className="btn btn-line btn-sm btn-tight"
          aria-pressed={painting.on}
          aria-disabled={painting.why !== null}
          title={painting.why ?? 'Drag over the original: where it is painted more is kept'}
          onClick={() => painting.why === null && painting.toggle()}
        >
          Paint where detail stays
        </button>
        <span className="w-[124px]">
          <Num
            width={84}
            words
            label="Brush"
            unit="mm"
            value={painting.radiusMm}
            min={0.01}
            max={10_000}
            onChange={(x) => painting.set({ radiusMm: x })}
          />
        </span>
        <span className="w-[124px]">
          <Num
            width={74}
            words
            label="Weight"
            unit="×"
            value={painting.weight}
            min={0.1}
            max={100}
            onChange={(x) => painting.set({ weight: x })}
          />
        </span>
        <span className="soft">
          <span className="num">{s.detail.length}</span> {s.detail.length === 1 ? 'place' : 'places'} painted
        </span>
        {s.detail.length > 0 && (
          <button type="button" className="fix" onClick={() => set({ detail: [] })}>
            Remove the paint
          </button>
        )}
      </div>
      {named.length > 1 && (
        <table className="ledger mt-2">
          <thead>
            <tr>
              <th>Shape</th>
              <th className="r">Triangles</th>
              <th>Triangles</th>
              <th>Keep detail</th>
            </tr>
          </thead>
          <tbody>
            {named.map((m) => (
              <tr key={m.name}>
                <td className="max-w-[180px] truncate" title={m.name}>
                  {m.name}
                </td>
                <td className="r">{m.triangles}</td>
                <td>
                  <span className="flex items-center gap-2">
                    <input
                      type="checkbox"
                      className="check"
                      aria-label={`A number of its own for ${m.name}`}
                      checked={own(m.name) !== null}
                      onChange={(e) =>
                        set({
                          meshes: [
                            ...s.meshes.filter((x) => x.mesh !== m.name),
                            ...(e.target.checked ? [{ mesh: m.name, triangles: Math.max(1, Math.round(m.triangles / 2)) }] : []),
                          ],
                        })
                      }
                    />
                    {own(m.name) !== null && (
                      <span className="w-[90px]">
                        <Num
                          label={`Triangles of ${m.name}`}
                          unit=""
                          value={own(m.name) as number}
                          min={1}
                          max={1e9}
                          whole
                          onChange={(triangles) => set({ meshes: s.meshes.map((x) => (x.mesh === m.name ? { ...x, triangles } : x)) })}
                        />
                      </span>
                    )}
                  </span>
                </td>
                <td>
                  <span className="block w-[80px]">
                    <Num
                      label={`Weight of ${m.name}`}
                      unit="×"
                      value={weight(m.name)}
                      min={0.1}
                      max={100}
                      onChange={(x) =>
                        set({ keep: [...s.keep.filter((k) => k.mesh !== m.name), ...(x === 1 ? [] : [{ mesh: m.name, weight: x }])] })
                      }
                    />
                  </span>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
