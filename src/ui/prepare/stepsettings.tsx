'use client';
/** Everything a step can be told, opened under its row. */
import { MEND_OPS, PACKINGS, type RecipeStep, TEXTURE_OPS, WEIGHT_METHODS } from '@/core/piece';
import { REST_STANCE_NAMES } from '@/core/words/stances';
import { Check, PickField } from '../kit';
import { Motions } from '../rig/motions';
import { TakenMotions } from '../rig/taken';
import { OP_WORDS, STANCE_WORDS, WEIGHT_WORDS } from '../stock/recipe';
import { grid, Num } from './fields';
import { Pictures } from './picturesettings';
import type { ModelParts, Painting, Step } from './settingtypes';
import { Simplify } from './simplifysettings';

/** Steps that have settings to open. */
export const hasSettings = (step: RecipeStep): boolean => !['ground', 'prune', 'reorder', 'relink', 'repaint'].includes(step.step);

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
          <Check label="Shapes that wear the same" checked={step.settings.meshes} onChange={(meshes) => set({ meshes })} />
        </>,
      );
    }
    case 'chains':
    case 'figure':
      return grid(
        <PickField
          label="Weights"
          wide
          value={step.settings.weights}
          options={WEIGHT_METHODS.map((w) => [w, WEIGHT_WORDS[w]] as const)}
          onChange={(weights) => onChange({ ...step, settings: { ...step.settings, weights } } as typeof step)}
        />,
      );
    case 'stance':
      return grid(
        <PickField
          label="Rest pose"
          wide
          value={step.settings.rest}
          options={REST_STANCE_NAMES.map((s) => [s, STANCE_WORDS[s]] as const)}
          onChange={(rest) => onChange({ ...step, settings: { rest } })}
        />,
      );
    case 'garment':
      return grid(
        <>
          <PickField
            label="Body it lies on"
            wide
            value={step.settings.form}
            options={(['S', 'M', 'L'] as const).map((s) => [s, `Form ${s}`] as const)}
            onChange={(form) => onChange({ ...step, settings: { ...step.settings, form } })}
          />
          <Num
            words
            label="Weights evened out"
            unit="times"
            value={step.settings.smooth}
            min={0}
            max={60}
            whole
            onChange={(smooth) => onChange({ ...step, settings: { ...step.settings, smooth } })}
          />
        </>,
      );
    case 'motion':
      return (
        <Motions
          clips={step.settings.clips}
          busy={false}
          onChange={(clips) => clips.length > 0 && onChange({ ...step, settings: { clips } })}
        />
      );
    case 'retarget':
      return (
        <TakenMotions
          clips={step.settings.clips}
          stock={step.settings.clips.map((c) => ({ name: c.name, file: c.motion, clip: c.clip ?? '', seconds: null }))}
          busy={false}
          onChange={(clips) => clips.length > 0 && onChange({ ...step, settings: { clips } })}
        />
      );
    case 'bones': {
      const set = (c: Partial<typeof step.settings>) => onChange({ ...step, settings: { ...step.settings, ...c } });
      const { dropUnused, fourInfluences, limit } = step.settings;
      return grid(
        <>
          <Check label="Take out idle bones" checked={dropUnused} onChange={(on) => set({ dropUnused: on })} />
          <Check label="Four influences a vertex" checked={fourInfluences} onChange={(on) => set({ fourInfluences: on })} />
          <Check
            label="Join those that move least to their parents"
            checked={limit !== null}
            onChange={(on) => set({ limit: on ? 50 : null })}
          />
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
          <Check label="Take out keys that lie on a line" checked={step.settings.resample} onChange={(resample) => set({ resample })} />
          <Check
            label="Take out tracks that stand still"
            checked={step.settings.dropConstant}
            onChange={(on) => set({ dropConstant: on })}
          />
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
          <PickField
            wide
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
      <PickField
        wide
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
