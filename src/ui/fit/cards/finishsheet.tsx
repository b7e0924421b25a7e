'use client';
/** All of a finish by number and colour, with its ball; what is changed is kept at once, each change an undo. */
import { BookmarkPlus, Copy, Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  BLEND_WORDS,
  BLENDS,
  type Blend,
  FACES,
  type Faces,
  FINISH_KIND_WORDS,
  FINISH_KINDS,
  type FinishRow,
  type MapRole,
  withSet,
  writesDepth,
} from '@/core/finish';
import { matchSet } from '@/core/intake/sets';
import { counted } from '@/core/words/counted';
import { Choice, Dialog, NameInPlace, NumField } from '../../kit';
import { say } from '../../kit/say';
import { usePieceStore } from '../../piece/context';
import { AlphaNote } from './alphanote';
import { FinishBall } from './ball';
import { bringSet } from './bringset';
import { FinishMaps } from './finishmaps';
import { useKeptFinishes } from './keptfinishes';
import { MatteFields } from './mattefields';
import { Field, Group, Share, Tick } from './sheetfields';

type Put = (set: Partial<FinishRow>) => void;
type NumberKey = { [K in keyof FinishRow]: FinishRow[K] extends number ? K : never }[keyof FinishRow];
type ColourKey = 'colour' | 'glow' | 'sheen' | 'tint' | 'specularColour';

/** What light does to it: when to choose which. */
type InLight = 'mirrors' | 'matt' | 'asIs';
const LIGHT_WORDS: Readonly<Record<InLight, readonly [string, string]>> = {
  mirrors: ['mirrors', 'Takes light and mirrors its surroundings: metal, lacquer, glass, most real things'],
  matt: ['matt', 'Takes light but has no mirror image: felt, chalk, paper'],
  asIs: ['as it is', 'Shows its picture as it is, in any light: print, lamps, screens'],
};
const IN_LIGHT: Readonly<Record<InLight, Partial<FinishRow>>> = {
  mirrors: { unlit: false, specular: 1 },
  matt: { unlit: false, specular: 0, metal: 0, clearcoat: 0 },
  asIs: { unlit: true },
};
const inLight = ({ unlit, specular, metal, clearcoat }: FinishRow): InLight =>
  unlit ? 'asIs' : specular === 0 && metal === 0 && clearcoat === 0 ? 'matt' : 'mirrors';
/** Whether a map of opacity asks for a blend that looks at it. */
const opens = ({ opacity }: FinishRow['maps']): boolean => opacity !== null && opacity !== 'own';

const FACE_WORDS: Readonly<Record<Faces, string>> = { front: 'front', back: 'back', both: 'both' };

export function FinishSheet({
  finish,
  material,
  sha,
  usedBy,
  onChange,
  onCopy,
  onDiscard,
  onMany,
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
  /** Worn by many at once. */
  onMany: () => void;
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
  const store = usePieceStore();
  const yards = useKeptFinishes();
  const kept = yards.kept.find((k) => k.name === finish.name);
  const ownName = finish.ownOf ?? material;
  const take = async (files: readonly File[], role: MapRole | null) => {
    try {
      const pictures = await bringSet(store, files);
      if (pictures.length === 0) return;
      const set = role ? { [role]: pictures[0].stock } : matchSet([ownName || finish.name], pictures).get(ownName || finish.name);
      if (!set) return say.message('None of them says by its name or its content which map it is: drop each on its role.');
      const { id: _, name: _name, ...look } = withSet(store.getState().history.doc.finishes[finish.id], set);
      onChange(role ? { maps: look.maps } : look);
    } catch (e) {
      say.error((e as Error).message);
    }
  };
  const plain = now.unlit || now.kind !== 'surface';
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
          <p className="flex flex-wrap gap-1.5 mt-1.5">
            <button
              type="button"
              className="btn btn-line btn-sm btn-tight"
              title="Another one like it, worn here in its place"
              onClick={onCopy}
            >
              <Copy className="ico" />
              Copy
            </button>
            <button type="button" className="btn btn-line btn-sm btn-tight" title="What wears it is as it comes again" onClick={onDiscard}>
              <Trash2 className="ico" />
              Discard
            </button>
            <button
              type="button"
              className="btn btn-line btn-sm btn-tight"
              title="On many materials at once, of any parts"
              onClick={() => {
                keep({});
                onMany();
              }}
            >
              On many …
            </button>
            <button
              type="button"
              className="btn btn-line btn-sm btn-tight"
              title="With its pictures, for every piece of this yard"
              onClick={() => void yards.keep(store.getState().history.doc, now)}
            >
              <BookmarkPlus className="ico" />
              Keep
            </button>
            {kept && (
              <button type="button" className="btn btn-bare btn-sm btn-tight" onClick={() => void yards.drop(kept)}>
                Take out of the yard
              </button>
            )}
          </p>
          <Group title="What it is">
            <Choice
              label="Kind of finish"
              options={FINISH_KINDS.map((value) => ({ value, label: FINISH_KIND_WORDS[value][0], title: FINISH_KIND_WORDS[value][1] }))}
              value={now.kind}
              onChange={(kind) => keep({ kind })}
            />
            <p className="soft text-micro mt-1">{FINISH_KIND_WORDS[now.kind][1]}.</p>
          </Group>
          {now.kind === 'surface' && (
            <Group title="In the light">
              <Choice
                label="Light"
                options={(Object.keys(LIGHT_WORDS) as InLight[]).map((value) => ({
                  value,
                  label: LIGHT_WORDS[value][0],
                  title: LIGHT_WORDS[value][1],
                }))}
                value={inLight(now)}
                onChange={(v) => keep(IN_LIGHT[v])}
              />
              <p className="soft text-micro mt-1">{LIGHT_WORDS[inLight(now)][1]}.</p>
            </Group>
          )}
        </div>
        <div className="grid gap-x-6 text-small content-start" style={{ gridTemplateColumns: '1fr 1fr' }}>
          <div>
            {now.kind === 'surface' && (
              <Group title="Surface">
                {colour('colour', 'Colour')}
                {!now.unlit && share('metal', 'Metal')}
                {!now.unlit && share('roughness', 'Roughness')}
                {!now.unlit && share('specular', 'Mirror image')}
              </Group>
            )}
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
              <AlphaNote finish={now} sha={sha} material={ownName} onFix={keep} />
              {now.blend !== 'opaque' && share('opacity', 'Opacity')}
              {now.blend !== 'opaque' && now.kind !== 'occluder' && <MatteFields matte={now.matte} onPut={(matte) => keep({ matte })} />}
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
            {now.kind === 'surface' && (
              <Group title="Glow">
                {colour('glow', 'Light it gives')}
                {now.glow !== '#000000' && count('glowStrength', 'Strength', '×', 0, 1000, 2, 0.1)}
              </Group>
            )}
          </div>
          <div className={plain ? 'opacity-50' : ''} inert={plain}>
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
            {now.kind !== 'occluder' && (
              <FinishMaps
                maps={now.maps}
                own={sha !== null && ownName !== '' ? { sha, material: ownName } : null}
                onPut={(maps) => keep({ maps, ...(now.blend === 'opaque' && opens(maps) && { blend: 'over' as const }) })}
                onFiles={(files, role) => void take(files, role)}
              />
            )}
          </div>
        </div>
      </div>
    </Dialog>
  );
}
