/** Which triangles are the face: by what separate code counts on the form. */
import { expect, test } from 'vitest';
import { faceIndices } from './facesurface';
import { makeForm } from './form';
import { formBase } from './samples';

const form = makeForm(formBase(), 'M');
const { names, ids } = form.regions;
const region = (v: number) => names[ids[v]];
const threes = (indices: ArrayLike<number>) =>
  Array.from({ length: indices.length / 3 }, (_, t) => [indices[t * 3], indices[t * 3 + 1], indices[t * 3 + 2]]);
const key = (t: readonly number[]) => t.join(' ');
const all = new Set(threes(form.indices).map(key));
const OPEN = { eyes: true, mouth: true };
const SHUT = { eyes: false, mouth: false };

test.each(['face', 'eyes', 'lids', 'brows', 'lips'] as const)('%s: triangles of the form, each once, in their own winding', (covers) => {
  const some = threes(faceIndices(form, covers, SHUT));
  expect(some.length).toBeGreaterThan(20);
  expect(new Set(some.map(key)).size).toBe(some.length);
  for (const t of some) expect(all.has(key(t))).toBe(true);
});
test('of the face, eyeballs and what lies behind the lips are left open where it is asked for', () => {
  const has = (holes: typeof OPEN, name: string) => threes(faceIndices(form, 'face', holes)).some((t) => t.some((v) => region(v) === name));
  expect([has(SHUT, 'eye'), has(SHUT, 'mouth')]).toEqual([true, true]);
  expect([has({ eyes: true, mouth: false }, 'eye'), has({ eyes: true, mouth: false }, 'mouth')]).toEqual([false, true]);
  expect([has({ eyes: false, mouth: true }, 'eye'), has({ eyes: false, mouth: true }, 'mouth')]).toEqual([true, false]);
  // what is left is exactly what touches neither
  const whole = threes(faceIndices(form, 'face', SHUT));
  const open = new Set(threes(faceIndices(form, 'face', OPEN)).map(key));
  for (const t of whole) expect(open.has(key(t))).toBe(!t.some((v) => region(v) === 'eye' || region(v) === 'mouth'));
});
test('eyes are eyeballs alone; lids, brows and lips reach to the skin round them, and into neither eye nor mouth', () => {
  for (const t of threes(faceIndices(form, 'eyes', SHUT))) expect(t.every((v) => region(v) === 'eye')).toBe(true);
  for (const [covers, name] of [
    ['lids', 'lid'],
    ['brows', 'brow'],
    ['lips', 'lips'],
  ] as const) {
    const some = threes(faceIndices(form, covers, SHUT));
    for (const t of some)
      expect(t.some((v) => region(v) === name) && !t.some((v) => region(v) === 'eye' || region(v) === 'mouth')).toBe(true);
    expect(some.some((t) => t.some((v) => region(v) !== name))).toBe(true);
    const wanted = threes(form.indices).filter(
      (t) => t.some((v) => region(v) === name) && !t.some((v) => region(v) === 'eye' || region(v) === 'mouth'),
    );
    expect(some.length).toBe(wanted.length);
  }
});
