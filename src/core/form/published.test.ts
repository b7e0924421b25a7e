/**
 * The form as it was published: pieces that were fitted to it stay fitted only while it stays. Whoever changes it gives it another
 * `FORM_VERSION` and writes this anew by `vitest -u`, once it is meant.
 */
import { beforeAll, expect, test } from 'vitest';
import { ACTION_UNITS, expressForm, FORM_SIZES, FORM_VERSION, type Form, type FormBase, LANDMARKS, makeForm, weightsOf } from './index';
import { formBase } from './samples';

let base: FormBase;
beforeAll(() => {
  base = formBase();
});

const EVERY = 41;
const fixed = (list: ArrayLike<number>, digits: number, factor = 1) =>
  Array.from(list, (x) => (x * factor).toFixed(digits).replace(/^-(0(\.0*)?)$/, '$1')).join(' ');
const at = (a: ArrayLike<number>, i: number, size: number) => Array.from({ length: size }, (_, k) => a[i * size + k]);
/** What any single number that changes would change. */
const whole = (a: ArrayLike<number>, factor: number) => {
  const sums = [0, 0, 0];
  for (let i = 0; i < a.length; i++) sums[i % 3] += ((a[i] * factor) ** 2 * (1 + (i % 101))) / a.length;
  return sums.map((s) => s.toPrecision(7)).join(' ');
};

function told(name: string, f: Form): string[] {
  const vertices = f.positions.length / 3;
  return [
    `${name}: ${vertices} vertices, ${f.indices.length / 3} triangles, round ${f.headCircumferenceMm.toFixed(2)} mm`,
    `all places ${whole(f.positions, 1000)}, normals ${whole(f.normals, 1000)}, colours ${whole(f.colors, 1000)}, UVs ${whole(f.uvs, 1000)}`,
    `all triangles ${whole(f.indices, 0.01)}, regions ${whole(f.regions.ids, 10)}`,
    ...LANDMARKS.map((l) => `${l} ${fixed(f.landmarks[l].position, 2, 1000)}`),
  ];
}

test('sizes, and the look of M', async () => {
  const lines = FORM_SIZES.flatMap((size) => told(size, makeForm(base, size)));
  const m = makeForm(base, 'M');
  for (let i = 0; i < m.positions.length / 3; i += EVERY)
    lines.push(`${i}: ${fixed(at(m.positions, i, 3), 2, 1000)} | ${fixed(at(m.normals, i, 3), 3)} | ${fixed(at(m.colors, i, 3), 3)}`);
  await expect(`version ${FORM_VERSION}\n${lines.join('\n')}\n`).toMatchFileSnapshot('./published/form.txt');
});

test('what every action unit moves, whole and half', async () => {
  const still = makeForm(base, 'M');
  const out = { positions: new Float32Array(still.positions.length), normals: new Float32Array(still.positions.length) };
  const lines = ACTION_UNITS.flatMap((unit) =>
    [1, 0.5].flatMap((weight) => {
      expressForm(still, weightsOf({ [unit]: weight }), out);
      const moved = Float64Array.from(out.positions, (x, i) => x - still.positions[i]);
      const far: [number, number][] = [];
      for (let i = 0; i < moved.length / 3; i++) far.push([Math.hypot(...at(moved, i, 3)) * 1000, i]);
      // of what an eyeball's turn moves alike the first
      far.sort((a, b) => Math.round((b[0] - a[0]) * 500) || a[1] - b[1]);
      return [
        `${unit} at ${weight}: ${far.filter(([mm]) => mm > 0.005).length} vertices, all ${whole(moved, 1000)}`,
        ...far
          .slice(0, 40)
          .flatMap(([mm, i], k) => (k % 8 === 0 ? [`  ${i} by ${mm.toFixed(2)} mm: ${fixed(at(moved, i, 3), 2, 1000)}`] : [])),
      ];
    }),
  );
  await expect(`version ${FORM_VERSION}\n${lines.join('\n')}\n`).toMatchFileSnapshot('./published/expressions.txt');
});
