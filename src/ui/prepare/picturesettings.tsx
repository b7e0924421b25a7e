'use client';
/** Settings of the pictures step: size, format and quality by role or one by one. */
import type { RecipeStep } from '@/core/piece';
import { PickField } from '../kit';
import { Num } from './fields';
import type { Step } from './settingtypes';

const ROLE_WORDS = { color: 'Colours', normal: 'Normals', data: 'Roughness, metal, occlusion', emission: 'Glow' } as const;
const FORMATS = [
  ['keep', 'as it is'],
  ['webp', 'WebP'],
  ['jpeg', 'JPEG'],
  ['png', 'PNG'],
  ['ktx2', 'KTX2'],
] as const;

export function Pictures({ step, onChange }: { step: Step<'pictures'>; onChange: (s: RecipeStep) => void }) {
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
        <PickField wide label={`Format: ${label}`} value={r.format} options={FORMATS} onChange={(format) => change({ format })} />
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
