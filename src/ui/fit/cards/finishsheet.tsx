'use client';
/** All of a finish by number and colour, with its ball; what is changed is kept at once, each change an undo. */
import { Copy, Trash2 } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { BLEND_WORDS, BLENDS, type Blend, FACES, type Faces, type FinishRow, writesDepth } from '@/core/finish';
import { counted } from '@/core/words/counted';
import { Choice, Dialog, NameInPlace, NumField } from '../../kit';
import { FinishBall } from './ball';
import { FinishMaps } from './finishmaps';

type Put = (set: Partial<FinishRow>) => void;
type NumberKey = { [K in keyof FinishRow]: FinishRow[K] extends number ? K : never }[keyof FinishRow];
type ColourKey = 'colour' | 'glow' | 'sheen' | 'tint' | 'specularColour';

const FACE_WORDS: Readonly<Record<Faces, string>> = { front: 'front', back: 'back', both: 'both' };

export function FinishSheet({
  finish,
  material,
  sha,
  usedBy,
  onChange,
  onCopy,
  onDiscard,
  onClose,
}: {
  finish: FinishRow;
  material: string;
  sha: string | null;
  /** Parts that wear it. */
  usedBy: number;
  onChange: Put;
  /** Another one like it, worn in its place. */
  onCopy: () => void;
  onDiscard: () => void;
  onClose: () => void;
}) {
  const [naming, setNaming] = useState(false);
  // while a slider is held
  const [held, setHeld] = useState<Partial<FinishRow>>({});
  const now = { ...finish, ...held };
  const keep: Put = (set) => {
    const next = { ...held, ...set };
    setHeld({});
    if (Object.keys(next).length > 0) onChange(next);
  };
  const share = (key: NumberKey, label: string, most = 1) => (
    <Share
      key={key}
      label={label}
      value={now[key]}
      most={most}
      onHold={(x) => setHeld({ ...held, [key]: x })}
      onKeep={(x) => keep(x === undefined ? {} : { [key]: x })}
    />
  );
  const count = (key: NumberKey, label: string, unit: string, min: number, max: number, decimals: number, step: number) => (
    <Field key={key} label={label}>
      <NumField
        label={label}
        dimension="count"
        unit=""
        after={unit}
        decimals={decimals}
        step={step}
        min={min}
        max={max}
        value={now[key]}
        onChange={(x) => keep({ [key]: x })}
      />
    </Field>
  );
  const colour = (key: ColourKey, label: string) => (
    <Field key={key} label={label}>
      <input
        type="color"
        aria-label={label}
        value={now[key]}
        onChange={(e) => setHeld({ ...held, [key]: e.target.value })}
        onBlur={() => keep({})}
      />
    </Field>
  );
  return (
    <Dialog
      title={`Finish ${finish.name}`}
      wide
      onClose={() => {
        keep({});
        onClose();
      }}
    >
      <div className="grid gap-5" style={{ gridTemplateColumns: '200px minmax(0, 1fr)' }}>
        <div className="text-small">
          <FinishBall finish={now} material={material} sha={sha} px={200} />
          {naming ? (
            <NameInPlace
              label="Name of the finish"
              initial={finish.name}
              className="h-[28px]! w-full mt-2"
              onDone={(name) => onChange({ name })}
              onLeave={() => setNaming(false)}
            />
          ) : (
            <button
              type="button"
              className="named text-[18px] leading-[26px] mt-2 block w-full text-left truncate cursor-text"
              aria-label={`Name the finish ${finish.name} otherwise`}
              title="Press to name it otherwise"
              dir="auto"
              onClick={() => setNaming(true)}
            >
              {finish.name}
            </button>
          )}
          <p className="soft text-micro">Worn by {counted(usedBy, 'part')}; all of them change with it.</p>
          <p className="flex gap-1.5 mt-1.5">
            <button type="button" className="btn btn-line btn-sm" title="Another one like it, worn here in its place" onClick={onCopy}>
              <Copy className="ico" />
              Copy
            </button>
            <button type="button" className="btn btn-line btn-sm" title="What wears it is as it comes again" onClick={onDiscard}>
              <Trash2 className="ico" />
              Discard
            </button>
          </p>
          <Group title="Takes light">
            <Choice
              label="Light"
              options={[
                { value: 'lit', label: 'yes', title: 'Mirrors its surroundings, and is dark in the dark' },
                { value: 'unlit', label: 'no', title: 'Shows its colour as it is: printed pictures, lamps' },
              ]}
              value={now.unlit ? 'unlit' : 'lit'}
              onChange={(v) => keep({ unlit: v === 'unlit' })}
            />
          </Group>
          <p className="soft text-micro mt-1">
            {now.unlit ? 'It shows its colour as it is, in any light.' : 'It takes light and mirrors what is around it.'}
          </p>
        </div>
        <div className="grid gap-x-6 text-small content-start" style={{ gridTemplateColumns: '1fr 1fr' }}>
          <div>
            <Group title="Surface">
              {colour('colour', 'Colour')}
              {!now.unlit && share('metal', 'Metal')}
              {!now.unlit && share('roughness', 'Roughness')}
              {!now.unlit && share('specular', 'Mirror image')}
            </Group>
            <Group title="Laid over what is behind it">
              <Field label="Blend">
                <select
                  className="field h-[26px]! px-1! text-small w-[110px]"
                  aria-label="Blend"
                  value={now.blend}
                  onChange={(e) => keep({ blend: e.target.value as Blend })}
                >
                  {BLENDS.map((b) => (
                    <option key={b} value={b}>
                      {BLEND_WORDS[b][0]}
                    </option>
                  ))}
                </select>
              </Field>
              <p className="soft text-micro">{BLEND_WORDS[now.blend][1]}.</p>
              {now.blend !== 'opaque' && share('opacity', 'Opacity')}
              {now.blend === 'cut' && share('cutAt', 'Cut at')}
              <Field label="Seen from">
                <Choice
                  label="Faces"
                  options={FACES.map((value) => ({ value, label: FACE_WORDS[value] }))}
                  value={now.faces}
                  onChange={(faces) => keep({ faces })}
                />
              </Field>
              <Tick label="Hidden by what is before it" on={now.depthTest} onPut={(depthTest) => keep({ depthTest })} />
              <Tick label="Hides what is behind it" on={writesDepth(now)} onPut={(depthWrite) => keep({ depthWrite })} />
            </Group>
            <Group title="Glow">
              {colour('glow', 'Light it gives')}
              {now.glow !== '#000000' && count('glowStrength', 'Strength', '×', 0, 1000, 2, 0.1)}
            </Group>
          </div>
          <div className={now.unlit ? 'opacity-50' : ''} inert={now.unlit}>
            <Group title="Clear coat">
              {share('clearcoat', 'Coat')}
              {now.clearcoat > 0 && share('clearcoatRoughness', 'Roughness of the coat')}
            </Group>
            <Group title="Glass">
              {share('transmission', 'Lets light through')}
              {now.transmission > 0 && (
                <>
                  {count('ior', 'Bends light', '', 1, 2.333, 2, 0.01)}
                  {count('thicknessMm', 'Thick', 'mm', 0, 10_000, 1, 0.5)}
                  {colour('tint', 'Tint')}
                  <Tick label="Tinted by depth" on={now.tintMm !== null} onPut={(on) => keep({ tintMm: on ? 10 : null })} />
                  {count('dispersion', 'Parts colours', '', 0, 20, 2, 0.1)}
                </>
              )}
            </Group>
            <Group title="Cloth">
              {colour('sheen', 'Sheen')}
              {now.sheen !== '#000000' && share('sheenRoughness', 'Roughness of the sheen')}
            </Group>
            <Group title="Film and brush">
              {share('iridescence', 'Iridescence')}
              {now.iridescence > 0 && count('filmNm', 'Film', 'nm', 0, 2000, 0, 10)}
              {share('anisotropy', 'Brushed')}
              {now.anisotropy > 0 && count('anisotropyDeg', 'Brushed along', '°', -360, 360, 0, 5)}
            </Group>
          </div>
          <div style={{ gridColumn: '1 / -1' }}>
            <FinishMaps maps={now.maps} hasOwn={material !== '' && sha !== null} onPut={(maps) => keep({ maps })} />
          </div>
        </div>
      </div>
    </Dialog>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="pt-2" aria-label={title}>
      <h3 className="font-semibold">{title}</h3>
      {children}
    </section>
  );
}

function Field({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex items-center gap-2 min-h-[30px]">
      <span className="soft">{label}</span>
      <span className="ml-auto max-w-[130px]">{children}</span>
    </div>
  );
}

function Tick({ label, on, onPut }: { label: string; on: boolean; onPut: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1.5 min-h-[26px]">
      <input type="checkbox" className="check" checked={on} onChange={(e) => onPut(e.target.checked)} />
      {label}
    </label>
  );
}

function Share({
  label,
  value,
  most,
  onHold,
  onKeep,
}: {
  label: string;
  value: number;
  most: number;
  onHold: (x: number) => void;
  onKeep: (x?: number) => void;
}) {
  return (
    <div className="grid items-center gap-x-2 min-h-[30px]" style={{ gridTemplateColumns: 'minmax(0, 1fr) 84px 62px' }}>
      <span className="soft truncate" title={label}>
        {label}
      </span>
      <input
        type="range"
        className="w-full h-[24px]"
        style={{ accentColor: 'var(--brass)' }}
        aria-label={label}
        min={0}
        max={most}
        step={0.01}
        value={value}
        onChange={(e) => onHold(Number(e.target.value))}
        onPointerUp={() => onKeep()}
        onKeyUp={() => onKeep()}
        onBlur={() => onKeep()}
      />
      <NumField
        label={`${label}, %`}
        dimension="share"
        unit="%"
        decimals={0}
        step={0.01}
        min={0}
        max={most}
        value={value}
        onChange={(x) => onKeep(x)}
      />
    </div>
  );
}
