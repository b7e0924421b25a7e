import { WebIO } from '@gltf-transform/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { readModel } from '../../model';
import { type Held, heldBy, sharesOf } from '../held';
import type { Vec } from '../middle';
import { strands } from '../samples';
import { type Brush, beginPainting, type Painting, patchOf, redoStroke, Stroking, undoStroke } from './brush';
import { patchDocument } from './patch';
import { runTaken, takeShares } from './taken';

const bitsOf = ({ held }: { held: Held }) => [Array.from(held.binding.bones), Array.from(held.binding.shares)];
const sums = ({ surface, binding }: Held) =>
  Array.from({ length: surface.piece.length }, (_, v) => [0, 1, 2, 3].reduce((s, k) => s + binding.shares[v * 4 + k], 0));
/** How unlike neighbours are: the sum of squares over all edges. */
const roughness = (held: Held, bone: number) => {
  const s = sharesOf(held, bone);
  const { start, to } = held.surface;
  let sum = 0;
  for (let v = 0; v < s.length; v++) for (let e = start[v]; e < start[v + 1]; e++) sum += (s[v] - s[to[e]]) ** 2;
  return sum;
};

/** On the first strand, half way up its lower half. */
const LOW: Vec = [-0.002, 0.05, 0];
const MIDDLE: Vec = [-0.002, 0.1, 0];

describe('weights are painted', () => {
  let painting: Painting;
  let held: Held;
  const bone = (name: string) => held.bones.findIndex((b) => b.name === name);
  const stroke = (brush: Partial<Brush>, ...places: Vec[]) => {
    const s = new Stroking(painting, {
      kind: 'add',
      bone: bone('strand.R.2'),
      radiusM: 0.02,
      strength: 0.5,
      mirrored: false,
      kept: new Set(),
      ...brush,
    });
    for (const p of places) s.to(p);
    return s.end();
  };
  const at = (p: Vec, name: string) => {
    const s = sharesOf(held, bone(name));
    let [best, far] = [0, Infinity];
    for (let v = 0; v < s.length; v++) {
      const d = Math.hypot(...[0, 1, 2].map((k) => held.surface.positions[v * 3 + k] - p[k]));
      if (d < far) [best, far] = [v, d];
    }
    return s[best];
  };
  beforeEach(() => {
    painting = beginPainting(strands());
    held = painting.held;
  });

  it('a stroke gives its strength where it goes, less beside it, nothing to what only lies near; sums stay one', () => {
    const before = sharesOf(held, bone('strand.R.2'));
    const had = at(LOW, 'strand.R.2');
    expect(stroke({}, LOW)).toBe(true);
    expect(at(LOW, 'strand.R.2')).toBeCloseTo(had + 0.5, 3);
    const after = sharesOf(held, bone('strand.R.2'));
    for (let v = 0; v < after.length; v++) {
      expect(after[v] - before[v]).toBeGreaterThanOrEqual(-1 / 4096);
      expect(after[v] - before[v]).toBeLessThanOrEqual(0.5 + 1 / 4096);
      // the other strand is 4 mm away through the air
      if (held.surface.positions[v * 3] > 0) expect(after[v]).toBe(before[v]);
    }
    expect(sums(held)).toEqual(sums(held).map(() => 1));
  });

  it('a hand that rests, or goes slowly, does no more than one that passes', () => {
    stroke({}, LOW, LOW, LOW);
    const once = bitsOf(painting);
    undoStroke(painting);
    stroke({}, LOW);
    expect(bitsOf(painting)).toEqual(once);
    undoStroke(painting);
    const way = (n: number) => Array.from({ length: n + 1 }, (_, i): Vec => [-0.002, 0.05 + (0.08 * i) / n, 0]);
    stroke({}, ...way(64));
    const slow = bitsOf(painting);
    undoStroke(painting);
    stroke({}, ...way(4));
    expect(bitsOf(painting)).toEqual(slow);
  });

  it('what is taken goes to the bones beside it, of a bone that held all to its parent', () => {
    const had = at(MIDDLE, 'strand.R.1');
    stroke({ kind: 'take', bone: bone('strand.R.1'), strength: 0.25 }, MIDDLE);
    expect(at(MIDDLE, 'strand.R.1')).toBeCloseTo(had - 0.25, 3);
    const top: Vec = [-0.002, 0.19, 0];
    stroke({ strength: 1 }, top);
    expect(at(top, 'strand.R.2')).toBe(1);
    stroke({ kind: 'take', strength: 0.25 }, top);
    expect(at(top, 'strand.R.2')).toBeCloseTo(0.75, 3);
    expect(at(top, 'strand.R.1')).toBeCloseTo(0.25, 3);
  });

  it('a bone that is held keeps its shares, whatever is done to the others', () => {
    const kept = bone('strand.R.1');
    stroke({ strength: 0.5 }, LOW);
    const before = sharesOf(held, kept);
    for (const kind of ['add', 'take', 'smooth', 'sharpen'] as const)
      stroke({ kind, kept: new Set([kept]), strength: 0.7 }, LOW, [-0.002, 0.09, 0]);
    stroke({ bone: kept, kept: new Set([kept]), strength: 1 }, LOW);
    const after = sharesOf(held, kept);
    // a share under a thousandth is none
    for (let v = 0; v < after.length; v++) expect(Math.abs(after[v] - before[v])).toBeLessThan(1.5e-3);
  });

  it('on both sides: the bone of the other side has on the image what this one has here', () => {
    const both = () => [sharesOf(held, bone('strand.R.2')), sharesOf(held, bone('strand.L.2'))];
    const [wasRight, wasLeft] = both();
    stroke({ mirrored: true }, LOW, [-0.002, 0.08, 0.003]);
    const [right, left] = both();
    const { positions } = held.surface;
    const key = (x: number, v: number) => [x, positions[v * 3 + 1], positions[v * 3 + 2]].map((c) => c.toFixed(6)).join();
    const image = new Map(Array.from(left, (_, v) => [key(-positions[v * 3], v), v]));
    let changed = 0;
    for (let v = 0; v < right.length; v++) {
      if (positions[v * 3] > 0) continue;
      const u = image.get(key(positions[v * 3], v)) as number;
      // voxels do not hold both sides to the last digit
      expect(Math.abs(left[u] - wasLeft[u] - right[v] + wasRight[v])).toBeLessThan(0.02);
      if (right[v] - wasRight[v] > 0.3) changed++;
    }
    expect(changed).toBeGreaterThan(5);
  });

  it('smooth makes neighbours more alike, sharpen less', () => {
    const two = bone('strand.R.2');
    const start = roughness(held, two);
    stroke({ kind: 'smooth', strength: 1 }, MIDDLE, [-0.002, 0.12, 0]);
    const smooth = roughness(held, two);
    expect(smooth).toBeLessThan(start);
    stroke({ kind: 'sharpen', strength: 0.5 }, MIDDLE);
    expect(roughness(held, two)).toBeGreaterThan(smooth);
    expect(sums(held)).toEqual(sums(held).map(() => 1));
  });

  it('each stroke is undone and done again by itself, bit by bit; a new one ends what could be done again', () => {
    // shares as another program writes them: none is in our steps
    const foreign = 1 / 3;
    held.binding.shares.set([1 - foreign, foreign], 4 * 3);
    held.binding.bones.set([bone('strand.R.1'), bone('strand.R.2')], 4 * 3);
    const states = [bitsOf(painting)];
    for (const kind of ['add', 'smooth', 'take'] as const) {
      stroke({ kind }, [-0.002, 0.01, 0], MIDDLE);
      states.push(bitsOf(painting));
    }
    for (const state of states.slice(0, -1).reverse()) {
      expect(undoStroke(painting)).toBe(true);
      expect(bitsOf(painting)).toEqual(state);
    }
    expect(undoStroke(painting)).toBe(false);
    for (const state of states.slice(1)) {
      expect(redoStroke(painting)).toBe(true);
      expect(bitsOf(painting)).toEqual(state);
    }
    undoStroke(painting);
    stroke({}, LOW);
    expect(redoStroke(painting)).toBe(false);
    expect(stroke({ radiusM: 1e-9 }, [5, 5, 5])).toBe(true);
  });
});

describe('what was painted becomes a file', () => {
  const sent = async (painting: Painting) => {
    const patch = patchOf(painting);
    if (!patch) throw new Error('nothing was painted');
    const glb = await new WebIO().writeBinary(patchDocument(patch));
    return heldBy(readModel(await new WebIO().readBinary(glb))) as Held;
  };
  const paint = () => {
    const painting = beginPainting(strands());
    const bone = painting.held.bones.findIndex((b) => b.name === 'strand.R.2');
    const stroke = new Stroking(painting, { kind: 'add', bone, radiusM: 0.02, strength: 0.6, mirrored: false, kept: new Set() });
    stroke.to(LOW);
    stroke.to([-0.002, 0.08, 0]);
    stroke.end();
    return painting;
  };

  it('and takes its place on the same shape again, bit by bit', async () => {
    const painting = paint();
    const fresh = beginPainting(strands()).held;
    const { missing, vertices } = takeShares(fresh, await sent(painting));
    expect(missing).toEqual([]);
    expect(vertices).toBeGreaterThan(20);
    expect(bitsOf({ held: fresh })).toEqual(bitsOf(painting));
  });

  it('what only lies near the painted place takes nothing while the shape is the same', async () => {
    // the strands nearly touch: 0.4 mm, less than a fiftieth of the shape
    const pair = strands(40, 10, 0.0002);
    const painting = beginPainting(pair);
    const stroke = new Stroking(painting, {
      kind: 'add',
      bone: pair.bones.findIndex((b) => b.name === 'strand.R.2'),
      radiusM: 0.03,
      strength: 0.6,
      mirrored: false,
      kept: new Set(),
    });
    stroke.to([-0.0002, 0.06, 0]);
    stroke.end();
    const fresh = beginPainting(strands(40, 10, 0.0002)).held;
    takeShares(fresh, await sent(painting));
    expect(bitsOf({ held: fresh })).toEqual(bitsOf(painting));
  });

  it('on a finer shape it is what was painted, on what lies beside it nothing', async () => {
    const painting = paint();
    const from = await sent(painting);
    const fine = beginPainting(strands(80, 20)).held;
    const before = sharesOf(
      fine,
      fine.bones.findIndex((b) => b.name === 'strand.R.2'),
    );
    takeShares(fine, from);
    const after = sharesOf(
      fine,
      fine.bones.findIndex((b) => b.name === 'strand.R.2'),
    );
    const coarse = sharesOf(
      painting.held,
      painting.held.bones.findIndex((b) => b.name === 'strand.R.2'),
    );
    const { positions } = fine.surface;
    const was = painting.held.surface.positions;
    let most = 0;
    for (let v = 0; v < after.length; v++) {
      if (positions[v * 3] > 0) expect(after[v]).toBe(before[v]);
      else most = Math.max(most, after[v] - before[v]);
      for (let u = 0; u < coarse.length; u++)
        if (Math.hypot(...[0, 1, 2].map((k) => positions[v * 3 + k] - was[u * 3 + k])) < 1e-6 && before[v] > 0 && after[v] !== before[v])
          expect(after[v]).toBeCloseTo(coarse[u], 2);
    }
    expect(most).toBeGreaterThan(0.5);
  });

  it('a bone that the shape has not is told, and a file without bones refused', async () => {
    const painting = paint();
    const from = await sent(painting);
    const other = strands();
    other.bones = other.bones.map((b) => (b.name === 'strand.R.2' ? { ...b, name: 'another' } : b));
    expect(takeShares(other, from).missing).toEqual(['strand.R.2']);
    const patch = patchOf(painting) as NonNullable<ReturnType<typeof patchOf>>;
    const renamed = patchDocument(patch);
    for (const n of renamed.getRoot().listNodes()) if (n.getName() === 'strand.R.2') n.setName('another');
    const bare = patchDocument(patch);
    for (const s of bare.getRoot().listSkins()) s.dispose();
    const source = readModel(patchDocument(patch));
    expect(runTaken(renamed, source, 'x.glb')).toEqual(['bone strand.R.2 of x.glb']);
    expect(() => runTaken(renamed, readModel(bare), 'x.glb')).toThrow('x.glb has no bones');
    expect(() => runTaken(bare, source, 'x.glb')).toThrow('no bones yet');
  });
});
