import { describe, expect, test } from 'vitest';
import type { SparChain } from '@/core/rig';
import {
  CHAINS_EVERYWHERE,
  type ChainsSettings,
  goOn,
  moreBones,
  moveJoint,
  namesByPattern,
  part,
  rename,
  renameAll,
  reverse,
  strike,
  struckOf,
  whole,
} from './chainacts';

const chain = (name: string, bones: number, joint = 0, found = name): SparChain => ({
  name,
  spars: Array.from({ length: bones }, (_, i) => i),
  lengthM: 0.1,
  from: -1,
  found: { name: found, joint },
  strayMm: null,
});
const [left, right, crest] = [chain('limb 1.L', 3), chain('limb 1.R', 3), chain('limb 2', 2)];
const all = [left, right, crest];
const everywhere: ChainsSettings = { ...CHAINS_EVERYWHERE, more: [], weights: 'auto' };
const press = (name: string | null) => ({
  name,
  rootM: [0, 0, 0] as [number, number, number],
  tipM: [0, 1, 0] as [number, number, number],
  bones: null,
});

describe('acts on chains', () => {
  test('one bone more is counted with all parts of the chain, between one and 24; joints put by hand are found anew', () => {
    const parts = [chain('limb 2', 1), chain('limb 2 b', 1, 1, 'limb 2')];
    const moved = moveJoint(everywhere, parts[1], 0, [1, 2, 3]);
    expect(moved.changes).toEqual({ 'limb 2': { jointsM: { 1: [1, 2, 3] } } });
    expect(moreBones(moved, parts, parts[0], 1).changes).toEqual({ 'limb 2': { bones: 3 } });
    expect(moreBones(everywhere, [chain('a', 24)], chain('a', 24), 1).changes.a.bones).toBe(24);
    expect(moreBones(everywhere, [chain('a', 1)], chain('a', 1), -1).changes.a.bones).toBe(1);
  });
  test('twice turned round is as it was found', () => {
    expect(reverse(reverse(everywhere, left), left)).toEqual(everywhere);
  });
  test('parts are joints of the found chain; whole again nothing is left of it', () => {
    const tail = chain('limb 1 b', 2, 1, 'limb 1.L');
    const cut = part(part(everywhere, left, 1), tail, 1);
    expect(cut.changes['limb 1.L'].cuts).toEqual([1, 2]);
    expect(whole(cut, tail)).toEqual(everywhere);
    expect(whole(everywhere, left)).toBeNull();
    expect(whole(goOn(everywhere, left, crest), left)).toEqual(everywhere);
  });
  test('a found chain is struck by name and can come back, a pressed one is gone, and of the last one none is left', () => {
    expect(struckOf(strike(everywhere, all, crest) as ChainsSettings)).toEqual(['limb 2']);
    const pressed: ChainsSettings = { ...everywhere, chains: [press('a'), press(null)], changes: { a: { reversed: true } } };
    expect(strike(pressed, [chain('a', 2), chain('limb 2', 2)], chain('a', 2))).toEqual({ ...pressed, chains: [press(null)], changes: {} });
    expect(strike(pressed, [chain('a', 2), crest], crest)?.chains).toEqual([press('a')]);
    expect(strike(everywhere, [crest], crest)).toBeNull();
    const beside: ChainsSettings = { ...everywhere, more: [press('chain 1')] };
    expect(strike(beside, [...all, chain('chain 1', 2)], chain('chain 1', 2))).toEqual(everywhere);
  });
  test('called as it was found a chain has no name of its own', () => {
    expect(rename(rename(everywhere, crest, 'crest'), chain('crest', 2, 0, 'limb 2'), 'limb 2')).toEqual(everywhere);
  });
});

describe('names by a pattern', () => {
  test.each([
    ['frond {n}{side}', ['frond 1.L', 'frond 1.R', 'frond 2']],
    ['frond', ['frond 1.L', 'frond 1.R', 'frond 2']],
    ['{side}-{n}', ['.L-1', '.R-1', '-2']],
  ])('%s', (pattern, names) => expect(namesByPattern(['limb 1.L', 'limb 1.R', 'limb 2'], pattern)).toEqual(names));
  test('one alone needs no number', () => expect(namesByPattern(['limb 4'], 'crest')).toEqual(['crest']));
  test('parts of one chain are called once', () => {
    const parts = [chain('limb 2', 1), chain('limb 2 b', 1, 1, 'limb 2')];
    expect(renameAll(everywhere, parts, 'tail').changes).toEqual({ 'limb 2': { name: 'tail' } });
  });
});
