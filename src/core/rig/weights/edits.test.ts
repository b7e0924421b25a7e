import { beforeEach, describe, expect, it } from 'vitest';
import { bentTube } from '../../../../e2e/support/preparing';
import { readModel } from '../../model';
import { type Held, heldBy, sharesOf } from '../held';
import { rigChains } from '../plan';
import { MAST, masthead, strands } from '../samples';
import { editShares, runShares } from './edits';
import { otherSide } from './mirror';

const at = (held: Held, name: string) => held.bones.findIndex((b) => b.name === name);
const sums = (held: Held) =>
  Array.from({ length: held.surface.piece.length }, (_, v) => [0, 1, 2, 3].reduce((s, k) => s + held.binding.shares[v * 4 + k], 0));

describe('shares put right by hand', () => {
  let held: Held;
  beforeEach(() => {
    held = strands();
  });

  it('a region has the share in its middle, less to its border, nothing beyond, and none on what only lies near', () => {
    const bone = at(held, 'strand.R.2');
    const before = sharesOf(held, bone);
    // in the middle of the lower half, which follows the first bone
    const centre: [number, number, number] = [-0.002, 0.03, 0];
    editShares(held, [{ kind: 'region', atM: centre, radiusM: 0.02, bone: 'strand.R.2', share: 0.8 }]);
    const after = sharesOf(held, bone);
    const { positions } = held.surface;
    let [most, changed] = [0, 0];
    for (let v = 0; v < after.length; v++) {
      const far = Math.hypot(positions[v * 3] - centre[0], positions[v * 3 + 1] - centre[1], positions[v * 3 + 2] - centre[2]);
      if (Math.abs(after[v] - before[v]) < 1e-6) continue;
      changed++;
      expect(far).toBeLessThan(0.02);
      // the other tube is 4 mm away
      expect(positions[v * 3]).toBeLessThan(0);
      most = Math.max(most, after[v]);
    }
    expect(changed).toBeGreaterThan(10);
    expect(most).toBeCloseTo(0.8, 2);
    for (const s of sums(held)) expect(s).toBe(1);
  });

  it('a whole piece follows one bone', () => {
    editShares(held, [{ kind: 'piece', atM: [0.02, 0.1, 0], bone: 'strand.R.1' }]);
    const shares = sharesOf(held, at(held, 'strand.R.1'));
    for (let v = 0; v < shares.length; v++) if (held.surface.positions[v * 3] > 0) expect(shares[v]).toBe(1);
  });

  it('mirrored, the other side’s bone has it on the other side', () => {
    editShares(held, [{ kind: 'region', atM: [-0.022, 0.03, 0], radiusM: 0.03, bone: 'strand.R.2', share: 1 }], true);
    const [r, l] = [sharesOf(held, at(held, 'strand.R.2')), sharesOf(held, at(held, 'strand.L.2'))];
    const { positions } = held.surface;
    for (let v = 0; v < r.length; v++) {
      const image = Array.from({ length: r.length }, (_, u) => u).reduce((best, u) =>
        Math.hypot(
          positions[u * 3] + positions[v * 3],
          positions[u * 3 + 1] - positions[v * 3 + 1],
          positions[u * 3 + 2] - positions[v * 3 + 2],
        ) <
        Math.hypot(
          positions[best * 3] + positions[v * 3],
          positions[best * 3 + 1] - positions[v * 3 + 1],
          positions[best * 3 + 2] - positions[v * 3 + 2],
        )
          ? u
          : best,
      );
      if (positions[v * 3] < 0 && positions[v * 3 + 1] < 0.05) expect(Math.abs(l[image] - r[v])).toBeLessThan(0.03);
    }
    expect(Math.max(...l)).toBe(1);
  });

  it('mirrored, nothing is done where nothing lies across', () => {
    // its pennant stands out to one side alone
    const surface = masthead();
    const asked = [
      { root: MAST.foot, tip: MAST.top, bones: 2, name: 'mast' },
      { root: MAST.fork, tip: MAST.end, bones: 2, name: 'pennant' },
    ];
    const { bones, binding } = rigChains(surface, asked, 'voxel');
    const one: Held = { surface, bones, joints: [], binding };
    const before = sharesOf(one, at(one, 'pennant.1'));
    editShares(one, [{ kind: 'region', atM: MAST.end, radiusM: 0.05, bone: 'pennant.1', share: 1 }], true);
    const after = sharesOf(one, at(one, 'pennant.1'));
    expect(after.some((x, v) => x > before[v] + 0.1)).toBe(true);
    for (let v = 0; v < after.length; v++) if (surface.positions[v * 3] < 0.05) expect(after[v]).toBe(before[v]);
  });

  it('made smooth, neighbours differ less, and far away nothing does', () => {
    editShares(held, [
      { kind: 'piece', atM: [-0.02, 0.1, 0], bone: 'strand.R.1' },
      { kind: 'region', atM: [-0.022, 0.1, 0], radiusM: 0.008, bone: 'strand.R.2', share: 1 },
    ]);
    const bone = at(held, 'strand.R.2');
    const steepest = () => {
      const s = sharesOf(held, bone);
      let most = 0;
      for (let v = 0; v < s.length; v++)
        for (let e = held.surface.start[v]; e < held.surface.start[v + 1]; e++)
          most = Math.max(most, Math.abs(s[v] - s[held.surface.to[e]]));
      return most;
    };
    const before = steepest();
    editShares(held, [{ kind: 'smooth', atM: [-0.022, 0.1, 0], radiusM: 0.05, rounds: 6 }]);
    expect(steepest()).toBeLessThan(before * 0.6);
    for (const s of sums(held)) expect(s).toBe(1);
  });

  it('a bone that is not there is told, and all else is done', () => {
    expect(
      editShares(held, [
        { kind: 'piece', atM: [0.02, 0.1, 0], bone: 'mast' },
        { kind: 'piece', atM: [0.02, 0.1, 0], bone: 'strand.R.1' },
      ]),
    ).toEqual(['mast']);
    expect(Math.max(...sharesOf(held, at(held, 'strand.R.1')).slice(-5))).toBe(1);
  });
});

it.each([
  ['limb 1.L.2', 'limb 1.R.2'],
  ['limb 1.R b.1', 'limb 1.L b.1'],
  ['frond 3.L', 'frond 3.R'],
  ['leftUpperArm', 'rightUpperArm'],
  ['tail.1', 'tail.1'],
])('the other side of %s is %s', (a, b) => expect(otherSide(a)).toBe(b));

describe('in a document', () => {
  it('shares are written where they change and stay, to the bit, where they do not', () => {
    const doc = bentTube();
    const weights = () => doc.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('WEIGHTS_0')?.getArray() as Float32Array;
    const before = weights().slice();
    expect(runShares(doc, [{ kind: 'region', atM: [0.02, 0.19, 0], radiusM: 0.03, bone: 'bone 0', share: 1 }], false)).toEqual([]);
    const after = weights();
    const p = doc.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION')?.getArray() as Float32Array;
    let changed = 0;
    for (let v = 0; v < p.length / 3; v++) {
      const same = [0, 1, 2, 3].every((k) => before[v * 4 + k] === after[v * 4 + k]);
      if (!same) changed++;
      if (p[v * 3 + 1] < 0.1) expect(same).toBe(true);
    }
    expect(changed).toBeGreaterThan(20);
    const held = heldBy(readModel(doc)) as Held;
    const bone = held.bones.findIndex((b) => b.name === 'bone 0');
    expect(Math.max(...sharesOf(held, bone).filter((_, v) => held.surface.positions[v * 3 + 1] > 0.18))).toBeGreaterThan(0.95);
  });

  it('without bones there is nothing to put right', () => {
    const doc = bentTube();
    for (const n of doc.getRoot().listNodes()) n.setSkin(null);
    for (const s of doc.getRoot().listSkins()) s.dispose();
    expect(() => runShares(doc, [{ kind: 'piece', atM: [0, 0, 0], bone: 'bone 0' }], false)).toThrow(/no bones yet/);
  });
});
