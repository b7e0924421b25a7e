/** Weights and traced lines over sizes of one shape: how they grow, and where their bounds are. Seconds are of this machine. */

import { Matrix4 } from 'three';
import { buildFormBase } from '../src/core/form';
import { type Body, bendBody, buildBodyBase, drawnBody, poseBody, shapeBody } from '../src/core/form/body';
import { BRUSHES, beginPainting, contours, MOST_BONES, rigFigure, Stroking, type Surface, sharesOf, surfaceFrom } from '../src/core/rig';
import type { Bone } from '../src/core/rig/bone';
import { middleLine, type Vec } from '../src/core/rig/middle';
import { movedBy, turned } from '../src/core/rig/posetest';
import { strands } from '../src/core/rig/samples';
import { tube } from '../src/core/rig/shapes';
import { bind } from '../src/core/rig/weights/bind';
import { heatWeights } from '../src/core/rig/weights/heat';
import { rigLaid } from '../src/core/rig/weights/laid';
import { depthColors } from '../src/ui/kit/depths';

const BONES = 30;
const SIZES = [2_000, 20_000, 100_000];
const curve = (t: number): Vec => [0.1 * Math.sin(t * 5), t * 0.6, 0.05 * Math.cos(t * 3)];
const radius = (t: number) => 0.02 - 0.012 * t;

function shape(triangles: number): Surface {
  // as many rings as make triangles even
  const round = Math.max(6, Math.round(Math.sqrt(triangles / 15)));
  const made = tube(curve, radius, Math.round(triangles / 2 / round), round);
  return surfaceFrom(made.positions, made.triangles);
}
const bones = Array.from(
  { length: BONES },
  (_, i): Bone => ({ name: `b${i}`, parent: i - 1, head: curve(i / BONES), tail: curve((i + 1) / BONES), limb: 0 }),
);
const timed = <T>(work: () => T): [T, number] => {
  const from = performance.now();
  const done = work();
  return [done, (performance.now() - from) / 1000];
};

// the first run of anything is the compiler's
bind(shape(SIZES[0]), bones, 'heat');
bind(shape(SIZES[0]), bones, 'voxel');
const rows = SIZES.map((n) => {
  const surface = shape(n);
  const [, heat] = timed(() => heatWeights(surface, bones));
  const [, voxel] = timed(() => bind(surface, bones, 'voxel'));
  const [, line] = timed(() => middleLine(surface, curve(0), curve(1)));
  console.log(
    `${String(surface.triangles.length / 3).padStart(7)} triangles, ${surface.piece.length} vertices: heat ${heat.toFixed(2)} s, voxels ${voxel.toFixed(2)} s, a line traced ${line.toFixed(2)} s`,
  );
  return { n: surface.piece.length, heat, voxel, line };
});
const exponent = (key: 'heat' | 'voxel' | 'line') => Math.log(rows[2][key] / rows[0][key]) / Math.log(rows[2].n / rows[0].n);
console.log(
  `20 000 triangles, ${BONES} bones: heat ${rows[1].heat.toFixed(2)} s (bound 2), voxels ${rows[1].voxel.toFixed(2)} s (bound 4)`,
);
console.log(
  `grows with vertices to the power of ${exponent('heat').toFixed(2)} (heat, bound 1.15), ${exponent('voxel').toFixed(2)} (voxels), ${exponent('line').toFixed(2)} (lines)`,
);

const many = shape(40_000);
const binding = bind(many, bones, 'heat');
const moved = movedBy(bones, binding, 10);
const turn = new Matrix4().makeRotationX(0.5);
for (let i = 0; i < 20; i++) turned(many, moved, bones[10].head, turn);
const [, pose] = timed(() => {
  for (let i = 0; i < 20; i++) turned(many, moved, bones[10].head, turn);
});
console.log(`${many.piece.length} vertices posed in ${((pose / 20) * 1000).toFixed(2)} ms (bound 4)`);

// the same equation on a mesh 16 times finer, at the coarse one's own places
const [coarse, fine] = [shape(4_000), shape(64_000)];
const [a, b] = [heatWeights(coarse, bones), heatWeights(fine, bones)];
let [sum, count] = [0, 0];
for (let v = 0; v < coarse.piece.length; v += 7) {
  let [at, least] = [0, Infinity];
  for (let w = 0; w < fine.piece.length; w++) {
    const d =
      (coarse.positions[v * 3] - fine.positions[w * 3]) ** 2 +
      (coarse.positions[v * 3 + 1] - fine.positions[w * 3 + 1]) ** 2 +
      (coarse.positions[v * 3 + 2] - fine.positions[w * 3 + 2]) ** 2;
    if (d < least) [at, least] = [w, d];
  }
  for (let k = 0; k < BONES; k++) {
    sum += Math.abs(a.weights[k][v] - b.weights[k][at]);
    count++;
  }
}
console.log(
  `mean difference of weights to a mesh 16 times finer ${(sum / count).toFixed(5)} (bound 0.02), ${((sum / count) * BONES).toFixed(3)} summed over a vertex' bones; a chain has at most ${MOST_BONES} bones`,
);

// figures: the body form, whose joints and weights are known
const base = buildBodyBase(buildFormBase());
const shaped = shapeBody(base);
const body = poseBody(shaped, 'A');
const whole = surfaceFrom(body.rest.positions, body.indices);
const stature = body.measured.stature / 1000;
const ownJoint = (name: string) => (body.joints.find((j) => j.name === name) as Body['joints'][number]).rest.slice(12, 15) as Vec;
const [figure, seconds] = timed(() => rigFigure(whole, { detail: 52, joints: {}, weights: 'voxel' }));
const off = figure.joints.map((j) => Math.hypot(...j.at.map((x, k) => x - ownJoint(j.name)[k])) / stature);
console.log(
  `a figure of ${figure.bones.length} bones in ${whole.triangles.length / 3} triangles: ${seconds.toFixed(2)} s with voxels; joints ${(100 * (off.reduce((s, x) => s + x, 0) / off.length)).toFixed(1)} % of stature off on the mean, ${(100 * Math.max(...off)).toFixed(1)} % at most (bound 5)`,
);
const joints = Object.fromEntries(body.joints.map((j) => [j.name, ownJoint(j.name)]));
// of each vertex of the surface, one of the form at its place
const formVertex = new Int32Array(whole.piece.length);
whole.sources[0].vertices.forEach((w, v) => {
  formVertex[w] = v;
});
for (const weights of ['heat', 'voxel'] as const) {
  const [rig, took] = timed(() => rigFigure(whole, { detail: 52, joints, weights }));
  const names = rig.bones.map((b) => b.name);
  let [misplaced, crossed, fingers] = [0, 0, 0];
  const fingerOf = (n: string) => /^(left|right)(Thumb|Index|Middle|Ring|Little)/.exec(n)?.[0];
  for (let v = 0; v < whole.piece.length; v++) {
    const held = new Float64Array(names.length);
    const own = new Float64Array(names.length);
    for (let k = 0; k < 4; k++) {
      held[rig.binding.bones[v * 4 + k]] += rig.binding.shares[v * 4 + k];
      const f = formVertex[v] * 4 + k;
      own[names.indexOf(body.joints[body.skinIndices[f]].name)] += body.skinWeights[f];
    }
    misplaced += held.reduce((s, x, b) => s + Math.abs(x - own[b]), 0) / 2;
    // whose finger it is by half of its own weights, and whether it follows another
    const most = Math.max(...own);
    const finger = fingerOf(names[own.indexOf(most)]);
    if (!finger || most < 0.5) continue;
    fingers++;
    if (names.some((n, b) => held[b] > 0.05 && fingerOf(n) && fingerOf(n) !== finger)) crossed++;
  }
  console.log(
    `${weights}: ${took.toFixed(2)} s; ${((100 * misplaced) / whole.piece.length).toFixed(1)} % of a vertex' weight is elsewhere than in the form's own, on the mean (bound 6); ${crossed} of ${fingers} vertices of fingers follow another finger`,
  );
}

// cloth a little off the skin: its weights from the body, and the body bent, as every frame of a take asks
const skin = drawnBody(shaped);
const cloth = surfaceFrom(
  skin.positions.map((x, i) => x + skin.normals[i] * 0.005),
  skin.indices,
);
const [, laid] = timed(() => rigLaid(cloth, base, { form: 'M', detail: 22, smooth: 6 }));
const carry = new Float64Array(52 * 16);
for (let j = 0; j < 52; j++) for (let k = 0; k < 4; k++) carry[j * 16 + k * 5] = 1;
const bent = { positions: new Float32Array(skin.positions.length), normals: new Float32Array(skin.positions.length) };
for (let i = 0; i < 20; i++) bendBody(skin, carry, bent);
const [, bend] = timed(() => {
  for (let i = 0; i < 20; i++) bendBody(skin, carry, bent);
});
const taken = (['L', 'S', 'M', 'L', 'S'] as const).map((size) => timed(() => shapeBody(base, size))[1]).sort((a, b) => a - b);
const measures = taken[taken.length >> 1];
console.log(
  `a garment of ${cloth.triangles.length / 3} triangles weighed by the body it lies on: ${laid.toFixed(2)} s; a body of ${skin.positions.length / 3} vertices bent in ${((bend / 20) * 1000).toFixed(2)} ms, other measures in ${(measures * 1000).toFixed(0)} ms (median of five, the slowest ${(taken[taken.length - 1] * 1000).toFixed(0)}; bound 200)`,
);

// a stroke of the brush on 20 000 vertices: what the weights become, their depths and lines, at each move of the hand
const canvas = strands(200, 50);
const painting = beginPainting(canvas);
const painted = canvas.bones.findIndex((b) => b.name === 'strand.R.2');
const moves: number[] = [];
for (let round = 0; round < 12; round++) {
  const stroke = new Stroking(painting, {
    kind: BRUSHES[round % BRUSHES.length],
    bone: painted,
    radiusM: 0.02,
    strength: 0.5,
    mirrored: true,
    kept: new Set(),
  });
  for (let i = 0; i < 12; i++) {
    const [, s] = timed(() => {
      stroke.to([-0.002, 0.03 + 0.008 * i, 0]);
      const shares = sharesOf(painting.held, painted);
      contours(canvas.surface.positions, canvas.surface.triangles, shares, [0.1, 0.25, 0.5, 0.75, 0.9]);
      depthColors(shares, [0, 0.1, 0.25, 0.5, 0.75]);
    });
    moves.push(s * 1000);
  }
  stroke.end();
}
moves.sort((a, b) => a - b);
console.log(
  `a move of the brush at ${canvas.surface.piece.length} vertices: ${moves[moves.length >> 1].toFixed(0)} ms, of a hundred the slowest five over ${moves[Math.floor(moves.length * 0.95)].toFixed(0)} ms (bound 50, drawing apart)`,
);
