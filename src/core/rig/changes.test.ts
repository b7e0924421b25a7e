import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { type ChainChanges, changeChains, type LaidChain } from './changes';
import type { Vec } from './middle';
import { type Rig, rigChains, rigLimbs } from './plan';
import { MAST, masthead } from './samples';
import type { Surface } from './surface';

let mast: Surface;
beforeAll(() => {
  mast = masthead();
});
const presses = [
  { root: MAST.foot, tip: MAST.top, bones: 3, name: 'mast' },
  { root: [0.02, 0.062, 0] as Vec, tip: MAST.end, bones: 2, name: 'pennant' },
];

const rig = (changes: ChainChanges = {}): Rig => rigChains(mast, presses, 'heat', changes);
const parentOf = (r: Rig, bone: string) => {
  const b = r.bones.find((x) => x.name === bone);
  return b && b.parent >= 0 ? r.bones[b.parent].name : null;
};
const namesOf = (r: Rig) => r.chains.map((c) => c.bones);

test('a chain whose root lies on another hangs from it, at the joint nearest to it', () => {
  const r = rig();
  expect(namesOf(r)).toEqual([
    ['mast.1', 'mast.2', 'mast.3'],
    ['pennant.1', 'pennant.2'],
  ]);
  // joints at −150, −50, 50 and 150 mm, the pennant at 50
  expect(['mast.2', 'mast.3']).toContain(parentOf(r, 'pennant.1'));
  expect(parentOf(r, 'mast.1')).toBe('root');
});

test('found in all limbs it hangs the same, and a press adds a chain beside those', () => {
  const found = rigLimbs(mast, 'heat');
  expect(found.chains.some((c) => c.from >= 0)).toBe(true);
  const more = rigLimbs(mast, 'heat', { asked: [presses[1]] });
  expect(more.chains).toHaveLength(found.chains.length + 1);
  expect(more.chains.at(-1)?.name).toBe('pennant');
});

describe('changed', () => {
  test('it hangs from the root, if that is asked', () => {
    expect(parentOf(rig({ pennant: { from: null } }), 'pennant.1')).toBe('root');
  });
  test('turned round its root is where its tip was', () => {
    const [before, after] = [rig(), rig({ mast: { reversed: true } })];
    const [first, last] = ['mast.1', 'mast.3'].map((n) => before.bones.find((b) => b.name === n));
    const now = after.bones.find((b) => b.name === 'mast.1');
    expect(Math.abs((now?.head[1] ?? 0) - (last?.tail[1] ?? 1))).toBeLessThan(1e-9);
    expect(now?.head[1]).toBeGreaterThan((first?.head[1] as number) + 0.25);
  });
  test('struck it is gone, and what it held goes with what it hung from', () => {
    const r = rig({ pennant: { struck: true } });
    expect(r.chains.map((c) => c.name)).toEqual(['mast']);
    for (let v = 0; v < mast.piece.length; v++)
      if (mast.positions[v * 3] > 0.1) expect(r.bones[r.binding.bones[v * 4]].name).toMatch(/^mast/);
    expect(() => rig({ pennant: { struck: true }, mast: { struck: true } })).toThrow(/All chains are struck/);
  });
  test('what hung from a struck one hangs where that hung', () => {
    expect(parentOf(rig({ mast: { struck: true } }), 'pennant.1')).toBe('root');
  });
  test('one that goes on is one line with the other', () => {
    const r = rig({ mast: { goesOn: ['pennant'], bones: 5 } });
    expect(namesOf(r)).toEqual([['mast.1', 'mast.2', 'mast.3', 'mast.4', 'mast.5']]);
    expect(r.bones.at(-1)?.tail[0]).toBeGreaterThan(0.1);
  });
  test('parted it is two, the second from the end of the first, and both are found under one name', () => {
    const r = rig({ mast: { cuts: [1] } });
    expect(namesOf(r).slice(0, 2)).toEqual([['mast.1'], ['mast b.1', 'mast b.2']]);
    expect(parentOf(r, 'mast b.1')).toBe('mast.1');
    expect(r.bones.find((b) => b.name === 'mast b.1')?.chain).toEqual({ found: 'mast', joint: 1 });
  });
  test('a joint stands where it was put, bones on both sides of it reach there, and how far they stray is told', () => {
    const to: Vec = [0.008, -0.04, 0];
    const r = rig({ mast: { jointsM: { 1: to } } });
    expect(r.bones.find((b) => b.name === 'mast.1')?.tail).toEqual(to);
    expect(r.bones.find((b) => b.name === 'mast.2')?.head).toEqual(to);
    // a straight line whose middle joint is 8 mm beside it: 8 mm at the joint, less elsewhere
    expect(r.chains[0].strayMm).toBeGreaterThan(4);
    expect(r.chains[0].strayMm).toBeLessThanOrEqual(8.5);
  });
  test('called otherwise its bones are too; of two of one name the second has a number', () => {
    const r = rig({ mast: { name: 'pole' }, pennant: { name: 'pole' } });
    expect(r.chains.map((c) => [c.name, c.found])).toEqual([
      ['pole', 'mast'],
      ['pole 2', 'pennant'],
    ]);
  });
  test('a chain of another shape is passed over', () => {
    expect(namesOf(rig({ gaff: { struck: true, goesOn: ['mast'], from: 'pennant' } }))).toEqual(namesOf(rig()));
  });

  test('whatever is changed, chains hang in a tree, and what a vertex belongs to is there', () => {
    const keys = ['a', 'b', 'c', 'd'];
    const key = fc.constantFrom(...keys, 'none of them');
    const change = fc.record(
      { struck: fc.boolean(), reversed: fc.boolean(), from: fc.option(key), goesOn: fc.array(key, { maxLength: 3 }) },
      { requiredKeys: [] },
    );
    const found = keys.map((k, i): LaidChain => {
      const points: Vec[] = [0, 1, 2].map((y) => [i, y, 0]);
      return { key: k, line: { points, radii: [1, 1, 1], lengthM: 2 }, from: i - 1, bones: null };
    });
    const home = Int32Array.from([-1, 0, 1, 2, 3]);
    fc.assert(
      fc.property(fc.dictionary(key, change, { maxKeys: 4 }), (changes) => {
        const { chains, home: now } = changeChains(found, home, changes);
        for (const [i, c] of chains.entries()) {
          expect(changes[c.key]?.struck ?? false).toBe(false);
          let up = c.from;
          for (let steps = 0; up >= 0; steps++) {
            expect(steps).toBeLessThan(chains.length);
            expect(up).not.toBe(i);
            up = chains[up].from;
          }
        }
        // all that is there is there once: struck, or in one line
        const there = chains.reduce((n, c) => n + c.line.points.length / 3, 0);
        expect(there).toBeLessThanOrEqual(keys.length);
        expect(there).toBeGreaterThanOrEqual(keys.filter((k) => !changes[k]?.struck).length);
        expect(now[0]).toBe(-1);
        for (const [i, h] of [...now].entries()) if (i > 0 && !changes[keys[i - 1]]?.struck) expect(h).toBeGreaterThanOrEqual(0);
        for (const h of now) expect(h).toBeLessThan(chains.length);
      }),
      { numRuns: 300 },
    );
  });
});
