import { WebIO } from '@gltf-transform/core';
import { beforeAll, describe, expect, test } from 'vitest';
import { inTurn } from '../../../../e2e/support/sweep';
import { type Body, poseBody, shapeBody } from '../../form/body';
import { bodyBase } from '../../form/samples';
import { readModel } from '../../model';
import { HUMANOID_SETS, mirrorName } from '../../words/humanoid';
import { tube } from '../shapes';
import { surfaceFrom, surfaceOf } from '../surface';
import { type Laid, rigLaid } from './laid';

let body: Body;
beforeAll(() => {
  body = poseBody(shapeBody(bodyBase(), 'M'), 'A', 22);
});
const asked = { form: 'M', detail: 22, smooth: 0 } as const;
const shareOf = ({ bones, binding }: Laid, v: number, bone: string) => {
  let sum = 0;
  for (let k = v * 4; k < v * 4 + 4; k++) if (bones[binding.bones[k]].name === bone) sum += binding.shares[k];
  return sum;
};
/** The body's own skin as cloth, so far from it. */
function cloth(awayMm: number, skin = body, eyes = false) {
  const end = skin.groups.find((g) => g.name === 'eyes')?.start;
  const positions = Float32Array.from(skin.positions, (x, i) => x + (skin.normals[i] * awayMm) / 1000);
  return surfaceFrom(positions, skin.indices.slice(0, eyes ? undefined : end));
}

describe('bones and weights of what lies on the body', () => {
  // the outside answer here is the body's own weights, which other code made
  test.runIf(inTurn('cloth a few millimetres'))('cloth a few millimetres off the skin follows what the skin below follows', () => {
    const surface = cloth(4);
    const laid = rigLaid(surface, bodyBase(), asked);
    expect([laid.stance, laid.frame]).toEqual(['A', 'body']);
    expect(laid.awayMm).toBeGreaterThan(2);
    expect(laid.awayMm).toBeLessThan(4.5);
    const names = HUMANOID_SETS[22];
    expect(laid.bones.map((b) => b.name)).toEqual(names);
    let [sum, worst, n] = [0, 0, 0];
    const { vertices } = surface.sources[0];
    const drawn = new Set(surface.triangles);
    for (const [v, at] of vertices.entries()) {
      if (!drawn.has(at)) continue;
      const own = new Map<string, number>();
      for (let k = v * 4; k < v * 4 + 4; k++)
        own.set(names[body.skinIndices[k]], (own.get(names[body.skinIndices[k]]) ?? 0) + body.skinWeights[k]);
      let off = 0;
      for (const name of names) off += Math.abs(shareOf(laid, at, name) - (own.get(name) ?? 0)) / 2;
      sum += off;
      worst = Math.max(worst, off);
      n++;
    }
    expect(n).toBeGreaterThan(9_000);
    expect(sum / n).toBeLessThan(0.01);
    expect(laid.binding.maxInfluences).toBeLessThanOrEqual(4);
    expect(laid.binding.unreached).toBe(0);
    // shares of a vertex sum to 1
    for (let v = 0; v < surface.piece.length; v++)
      expect([0, 1, 2, 3].reduce((s, k) => s + laid.binding.shares[v * 4 + k], 0)).toBeCloseTo(1, 6);
  });

  test.runIf(inTurn('in which pose it was made is found'))('in which pose it was made is found, and that its origin is in the head', () => {
    const level = poseBody(shapeBody(bodyBase(), 'M'), 'T', 22);
    expect(rigLaid(cloth(6, level), bodyBase(), asked).stance).toBe('T');
    const down = poseBody(shapeBody(bodyBase(), 'M'), 'armsDown', 22);
    const [x, y, z] = shapeBody(bodyBase(), 'M').head.offset;
    const moved = { ...down, positions: Float32Array.from(down.positions, (v, i) => v - [x, y, z][i % 3]) };
    const laid = rigLaid(cloth(6, moved), bodyBase(), asked);
    expect([laid.stance, laid.frame]).toEqual(['armsDown', 'head']);
    // its bones stand where it lies, not where the body does
    const head = laid.bones.find((b) => b.name === 'head');
    expect(Math.abs(head?.head[1] ?? 1)).toBeLessThan(0.06);
    const elbow = laid.bones.find((b) => b.name === 'leftLowerArm');
    expect(elbow?.head[0]).toBeLessThan(0.32);
  });

  test.runIf(inTurn('both sides alike'))('both sides alike: a mirrored vertex follows the mirrored bone', () => {
    const surface = cloth(5);
    const laid = rigLaid(surface, bodyBase(), { ...asked, smooth: 5 });
    const key = (x: number, y: number, z: number) => [x, y, z].map((v) => Math.round(v * 2e5)).join();
    const at = new Map<string, number>();
    const p = surface.positions;
    for (let v = 0; v < surface.piece.length; v++) at.set(key(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]), v);
    let [pairs, far] = [0, 0];
    for (let v = 0; v < surface.piece.length; v += 7) {
      const w = at.get(key(-p[v * 3], p[v * 3 + 1], p[v * 3 + 2]));
      if (w === undefined || w === v) continue;
      pairs++;
      for (const { name } of laid.bones) far = Math.max(far, Math.abs(shareOf(laid, v, name) - shareOf(laid, w, mirrorName(name))));
    }
    expect(pairs).toBeGreaterThan(200);
    expect(far).toBeLessThan(0.02);
  });

  test.runIf(inTurn('evened out, neighbours'))('evened out, neighbours differ less', () => {
    const step = (laid: Laid, surface: ReturnType<typeof cloth>) => {
      let most = 0;
      for (let v = 0; v < surface.piece.length; v++)
        for (let e = surface.start[v]; e < surface.start[v + 1]; e++)
          most = Math.max(most, Math.abs(shareOf(laid, v, 'leftUpperArm') - shareOf(laid, surface.to[e], 'leftUpperArm')));
      return most;
    };
    const surface = cloth(25);
    const [plain, even] = [0, 12].map((smooth) => step(rigLaid(surface, bodyBase(), { ...asked, smooth }), surface));
    expect(even).toBeLessThan(plain * 0.8);
  });

  test('a band round the brow gets the head and what it hangs on; a button on it goes whole', () => {
    // an origin between the ears, as things for the head have it
    const band = tube(
      (t) => [0.082 * Math.cos(2 * Math.PI * t), 0.06, 0.098 * Math.sin(2 * Math.PI * t) + 0.005],
      () => 0.004,
      60,
      8,
    );
    const laid = rigLaid(surfaceFrom(band.positions, band.triangles), bodyBase(), asked);
    expect(laid.frame).toBe('head');
    expect(laid.bones.at(-1)?.name).toBe('head');
    expect(laid.bones.some((b) => /Arm|Leg/.test(b.name))).toBe(false);
    for (let v = 0; v < laid.binding.shares.length / 4; v += 5) expect(shareOf(laid, v, 'head')).toBeGreaterThan(0.95);
  });

  test('a sleeve keeps the bone it leads to: by it its way is known', async () => {
    const { darkSuit } = await import('../../fit/samples');
    const model = readModel(await new WebIO().readBinary(await darkSuit()));
    const laid = rigLaid(surfaceOf(model), bodyBase(), { ...asked, smooth: 6 });
    expect([laid.stance, laid.frame]).toEqual(['T', 'body']);
    const names = laid.bones.map((b) => b.name);
    expect(names).toEqual(expect.arrayContaining(['leftLowerArm', 'rightLowerLeg', 'leftHand', 'hips']));
    for (const [i, b] of laid.bones.entries()) expect(b.parent).toBeLessThan(i);
    // the cuff of the left goes with the left fore arm
    const surface = surfaceOf(model);
    const cuff = [...surface.piece.keys()].filter((v) => Math.abs(surface.positions[v * 3] - 0.58) < 0.02);
    expect(cuff.length).toBeGreaterThan(10);
    for (const v of cuff) expect(shareOf(laid, v, 'leftLowerArm')).toBeGreaterThan(0.9);
  });

  test('what lies on no body, and what has no surface, is told', () => {
    const code = (run: () => unknown) => {
      try {
        run();
        return null;
      } catch (e) {
        return (e as { code?: string }).code;
      }
    };
    const mast = tube(
      (t) => [2, t * 3, 0],
      () => 0.05,
      20,
      8,
    );
    expect(code(() => rigLaid(surfaceFrom(mast.positions, mast.triangles), bodyBase(), asked))).toBe('rig/far');
    expect(code(() => rigLaid(surfaceFrom(new Float32Array(), new Uint32Array()), bodyBase(), asked))).toBe('rig/no-surface');
  });
});
