import { expect, test } from 'vitest';
import { alphaFault, readAlpha } from './alpha';
import { libraryFinish } from './library';

const pixels = (...alphas: number[]) => Uint8ClampedArray.from(alphas.flatMap((a) => [9, 9, 9, a]));
const cloth = { ...libraryFinish('sailcloth', 'a'), faces: 'front' as const };
const HOLES = { clear: 0.3, soft: 0.01 };
const VEIL = { clear: 0.1, soft: 0.5 };
const FULL = { clear: 0, soft: 0.001 };

test('shares of what is not there and of what is half there, by pixels', () => {
  expect(readAlpha(pixels(0, 9, 10, 244, 245, 255, 255, 255))).toEqual({ clear: 0.25, soft: 0.25 });
  expect(readAlpha(pixels())).toEqual({ clear: 0, soft: 0 });
});
test.each([
  ['solid over holes is cut', 'opaque', HOLES, { blend: 'cut', cutAt: 0.5 }],
  ['solid over a veil lets it through', 'opaque', VEIL, { blend: 'over' }],
  ['solid and full is well', 'opaque', FULL, null],
  ['over and full is solid', 'over', FULL, { blend: 'opaque' }],
  ['over holes is cut', 'over', HOLES, { blend: 'cut', cutAt: 0.5 }],
  ['over a veil is well', 'over', VEIL, null],
  ['cut is never looked into', 'cut', VEIL, null],
  ['added light is never looked into', 'add', FULL, null],
] as const)('%s', (_, blend, alpha, fix) => {
  expect(alphaFault({ ...cloth, blend }, alpha)?.fix ?? null).toEqual(fix);
});
test('what lets through by number, mask or map of its own may; a fix leaves no fault', () => {
  expect(alphaFault({ ...cloth, blend: 'over', opacity: 0.5 }, FULL)).toBeNull();
  expect(alphaFault({ ...cloth, blend: 'over', matte: { name: 'sky', invert: false, growPx: 0, featherPx: 0 } }, null)).toBeNull();
  const map = { stock: 's', uv: 0 as const, offset: [0, 0] as [number, number], repeat: [1, 1] as [number, number], turnDeg: 0 };
  expect(alphaFault({ ...cloth, blend: 'over', maps: { ...cloth.maps, opacity: map } }, null)).toBeNull();
  expect(alphaFault({ ...cloth, blend: 'opaque', kind: 'patch' }, HOLES)).toBeNull();
  for (const blend of ['opaque', 'over'] as const)
    for (const faces of ['front', 'both'] as const)
      for (const alpha of [HOLES, VEIL, FULL, null]) {
        const f = { ...cloth, blend, faces };
        const first = alphaFault(f, alpha);
        const second = first && alphaFault({ ...f, ...first.fix }, alpha);
        // soft and seen from both sides comes to light once it lets through
        expect(second ? Object.keys(second.fix) : []).toEqual(second ? ['faces'] : []);
        if (first && second) expect(alphaFault({ ...f, ...first.fix, ...second.fix }, alpha)).toBeNull();
      }
});
