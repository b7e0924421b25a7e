'use client';
/** Everything a step can be told, opened under its row. */
import type { ReactNode } from 'react';
import { MEND_OPS, PACKINGS, type RecipeStep, type SimplifySettings, TEXTURE_OPS } from '@/core/piece';
import { OP_WORDS } from '../stock/recipe';
import { Check, Num, Pick } from './fields';

type Step<K extends RecipeStep['step']> = Extract<RecipeStep, { step: K }>;

/** What of the model a setting can name. */
export interface ModelParts {
  meshes: readonly { name: string; triangles: number }[];
}
/** Painting detail: on for one step at a time. */
export interface Painting {
  on: boolean;
  radiusMm: number;
  weight: number;
  toggle: () => void;
  set: (change: { radiusMm?: number; weight?: number }) => void;
  /** Why nothing can be painted now; null where it can. */
  why: string | null;
}

/** Steps that have settings to open. */
export const hasSettings = (step: RecipeStep): boolean => !['ground', 'prune', 'reorder', 'relink', 'repaint'].includes(step.step);

const grid = (children: ReactNode, columns = 2) => (
  <div className="grid gap-x-5 gap-y-1.5 items-center" style={{ gridTemplateColumns: `repeat(${columns}, minmax(0,1fr))` }}>
    {children}
  </div>
);

const toggled = <T,>(list: readonly T[], x: T, on: boolean): T[] => (on ? [...list, x] : list.filter((y) => y !== x));

export function StepSettings({
  step,
  parts,
  painting,
  onChange,
}: {
  step: RecipeStep;
  parts: ModelParts;
  painting: Painting;
  onChange: (s: RecipeStep) => void;
}) {
  switch (step.step) {
    case 'transform':
      return <Transform step={step} onChange={onChange} />;
    case 'pivot':
      return <Pivot step={step} onChange={onChange} />;
    case 'mend':
      return <Ops step={step} all={MEND_OPS.filter((o) => o !== 'the-form')} onChange={onChange} />;
    case 'texture':
      return (
        <>
          <Ops step={step} all={TEXTURE_OPS} onChange={onChange} />
          {step.settings.ops.includes('resize') && (
            <div className="pt-1.5 w-1/2">
              <Num
                words
                label="Longest edge"
                unit="px"
                value={step.settings.maxEdge}
                min={16}
                max={16384}
                whole
                onChange={(maxEdge) => onChange({ ...step, settings: { ...step.settings, maxEdge } })}
              />
            </div>
          )}
        </>
      );
    case 'hidden':
      return <Hidden step={step} parts={parts} onChange={onChange} />;
    case 'merge': {
      const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
      return grid(
        <>
          <Check label="Materials that are equal" checked={step.settings.materials} onChange={(materials) => set({ materials })} />
          <Check label="Meshes that wear the same" checked={step.settings.meshes} onChange={(meshes) => set({ meshes })} />
        </>,
      );
    }
    case 'bones': {
      const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
      const { dropUnused, fourInfluences, limit } = step.settings;
      return grid(
        <>
          <Check label="Idle bones out" checked={dropUnused} onChange={(on) => set({ dropUnused: on })} />
          <Check label="Four influences a vertex" checked={fourInfluences} onChange={(on) => set({ fourInfluences: on })} />
          <Check label="The least moving into their parents" checked={limit !== null} onChange={(on) => set({ limit: on ? 50 : null })} />
          {limit !== null && (
            <Num words label="At most" unit="bones" value={limit} min={1} max={10_000} whole onChange={(x) => set({ limit: x })} />
          )}
        </>,
      );
    }
    case 'clips': {
      const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
      return grid(
        <>
          <Check label="Keys a line gives anyway, out" checked={step.settings.resample} onChange={(resample) => set({ resample })} />
          <Check label="Tracks that stand still, out" checked={step.settings.dropConstant} onChange={(on) => set({ dropConstant: on })} />
        </>,
      );
    }
    case 'simplify':
      return <Simplify step={step} parts={parts} painting={painting} onChange={onChange} />;
    case 'atlas':
      return (
        <div className="w-1/2">
          <Num
            words
            label="Longest edge of the atlas"
            unit="px"
            value={step.settings.maxEdge}
            min={64}
            max={16384}
            whole
            onChange={(maxEdge) => onChange({ ...step, settings: { maxEdge } })}
          />
        </div>
      );
    case 'pictures':
      return <Pictures step={step} onChange={onChange} />;
    case 'quantise': {
      const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
      const { positionBits, normalBits, uvBits } = step.settings;
      return grid(
        <>
          <Num words label="Places" unit="bits" value={positionBits} min={6} max={16} whole onChange={(x) => set({ positionBits: x })} />
          <Num words label="Normals" unit="bits" value={normalBits} min={4} max={16} whole onChange={(x) => set({ normalBits: x })} />
          <Num words label="UVs" unit="bits" value={uvBits} min={6} max={16} whole onChange={(x) => set({ uvBits: x })} />
        </>,
        3,
      );
    }
    case 'compress':
      return (
        <div className="w-1/2">
          <Pick
            label="Packed as"
            value={step.settings.method}
            options={PACKINGS.map((m) => [m, m === 'draco' ? 'Draco' : 'meshopt'] as const)}
            onChange={(method) => onChange({ ...step, settings: { method } })}
          />
        </div>
      );
    default:
      return null;
  }
}

function Ops({ step, all, onChange }: { step: Step<'mend'> | Step<'texture'>; all: readonly string[]; onChange: (s: RecipeStep) => void }) {
  const ops = step.settings.ops as string[];
  return grid(
    all.map((op) => (
      <Check
        key={op}
        label={OP_WORDS[op] ?? op}
        checked={ops.includes(op)}
        // the last one stays: a step does something or is switched off
        onChange={(on) =>
          (on || ops.length > 1) && onChange({ ...step, settings: { ...step.settings, ops: toggled(ops, op, on) } } as RecipeStep)
        }
      />
    )),
  );
}

function Transform({ step, onChange }: { step: Step<'transform'>; onChange: (s: RecipeStep) => void }) {
  const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
  const { factor, turnDeg, shiftM, apply } = step.settings;
  const turn = (key: keyof typeof turnDeg, label: string) => (
    <Num
      words
      label={label}
      unit="°"
      value={turnDeg[key]}
      min={-360}
      max={360}
      onChange={(x) => set({ turnDeg: { ...turnDeg, [key]: x } })}
    />
  );
  const shift = (i: 0 | 1 | 2, label: string) => (
    <Num
      words
      label={label}
      unit="mm"
      value={Number((shiftM[i] * 1000).toPrecision(6))}
      min={-1e6}
      max={1e6}
      onChange={(x) => set({ shiftM: shiftM.map((old, k) => (k === i ? x / 1000 : old)) as [number, number, number] })}
    />
  );
  return (
    <>
      {grid(
        <>
          {turn('yaw', 'Turn about up')}
          {turn('pitch', 'Turn about side')}
          {turn('roll', 'Turn about fore')}
          {shift(0, 'Move side')}
          {shift(1, 'Move up')}
          {shift(2, 'Move fore')}
          <Num words label="Size" unit="×" value={factor} min={1e-6} max={1e6} onChange={(x) => set({ factor: x })} />
        </>,
        3,
      )}
      <div className="pt-1.5">
        <Check label="Turns and sizes of nodes worked into the shapes" checked={apply} onChange={(on) => set({ apply: on })} />
      </div>
    </>
  );
}

function Pivot({ step, onChange }: { step: Step<'pivot'>; onChange: (s: RecipeStep) => void }) {
  const { to, pointM } = step.settings;
  const put = (i: number, x: number) =>
    onChange({ ...step, settings: { to, pointM: pointM.map((old, k) => (k === i ? x / 1000 : old)) as [number, number, number] } });
  return grid(
    <>
      <Pick
        label="Origin"
        value={to}
        options={[
          ['base', 'under the middle of its base'],
          ['centre', 'in the middle of its box'],
          ['point', 'at a point of it'],
        ]}
        onChange={(x) => onChange({ ...step, settings: { to: x, pointM } })}
      />
      <span className="soft">{to === 'point' ? 'the point that hangs on the anchor' : ''}</span>
      {to === 'point' &&
        ['Side', 'Up', 'Fore'].map((label, i) => (
          <Num
            key={label}
            words
            label={label}
            unit="mm"
            value={Number((pointM[i] * 1000).toPrecision(6))}
            min={-1e6}
            max={1e6}
            onChange={(x) => put(i, x)}
          />
        ))}
    </>,
  );
}

function Hidden({ step, parts, onChange }: { step: Step<'hidden'>; parts: ModelParts; onChange: (s: RecipeStep) => void }) {
  const { inside, behind } = step.settings;
  const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
  return (
    <>
      <Check label="What lies inside closed shapes" checked={inside} onChange={(on) => set({ inside: on })} />
      {parts.meshes.length > 1 && (
        <fieldset className="pt-1.5">
          <legend className="soft pb-1">What these hide from every side, as occluders do:</legend>
          {grid(
            parts.meshes.map((m) => (
              <Check
                key={m.name}
                label={m.name}
                checked={behind.includes(m.name)}
                onChange={(on) => set({ behind: toggled(behind, m.name, on) })}
              />
            )),
          )}
        </fieldset>
      )}
    </>
  );
}

function Simplify({
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
          <Pick
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
            Wash off
          </button>
        )}
      </div>
      {named.length > 1 && (
        <table className="ledger mt-2">
          <thead>
            <tr>
              <th>Mesh</th>
              <th className="r">Triangles</th>
              <th>To so many</th>
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

const ROLE_WORDS = { color: 'Colours', normal: 'Normals', data: 'Roughness, metal, occlusion', emission: 'Glow' } as const;
const FORMATS = [
  ['keep', 'as it is'],
  ['webp', 'WebP'],
  ['jpeg', 'JPEG'],
  ['png', 'PNG'],
  ['ktx2', 'KTX2'],
] as const;

function Pictures({ step, onChange }: { step: Step<'pictures'>; onChange: (s: RecipeStep) => void }) {
  const { roles, textures } = step.settings;
  type Row = Pick<(typeof roles)[number], 'maxEdge' | 'format' | 'quality'>;
  const row = (key: string, label: string, r: Row, change: (c: Partial<Row>) => void) => (
    <tr key={key}>
      <td className="max-w-[190px] truncate" title={label}>
        {label}
      </td>
      <td>
        <Num
          label={`Longest edge: ${label}`}
          unit="px"
          value={r.maxEdge}
          min={1}
          max={16384}
          whole
          onChange={(maxEdge) => change({ maxEdge })}
        />
      </td>
      <td>
        <Pick label={`Format: ${label}`} value={r.format} options={FORMATS} onChange={(format) => change({ format })} />
      </td>
      <td>
        <Num label={`Quality: ${label}`} unit="" value={r.quality} min={1} max={100} whole onChange={(quality) => change({ quality })} />
      </td>
    </tr>
  );
  return (
    <>
      <table className="ledger">
        <thead>
          <tr>
            <th>Pictures</th>
            <th>Longest edge</th>
            <th>Format</th>
            <th>Quality</th>
          </tr>
        </thead>
        <tbody>
          {roles.map((r, i) =>
            row(r.role, ROLE_WORDS[r.role], r, (c) =>
              onChange({ ...step, settings: { roles: roles.map((x, k) => (k === i ? { ...x, ...c } : x)), textures } }),
            ),
          )}
          {textures.map((t, i) =>
            row(`${t.texture} ${t.was}`, t.texture, t, (c) =>
              onChange({ ...step, settings: { roles, textures: textures.map((x, k) => (k === i ? { ...x, ...c } : x)) } }),
            ),
          )}
        </tbody>
      </table>
      <p className="text-micro soft pt-1">
        KTX2 weighs more in the file and a quarter in the memory of a device; writing it takes seconds a picture.
      </p>
    </>
  );
}
