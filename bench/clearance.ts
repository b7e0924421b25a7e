/**
 * `./scaphos bench clearance`, and the first of `bench fit`: how long Fit it takes; how a part lies on its wearers, of 2 k to 200 k triangles on three forms in nine poses; and signed distances beside
 * every triangle tried.
 */
import { type BufferGeometry, Matrix4, TorusGeometry, Vector3 } from 'three';
import { simulateCapture } from '@/core/capture';
import { CastMeasure } from '@/core/fit';
import { SurfaceField } from '@/core/fit/field';
import { fitIt, headOf, type ThingShape } from '@/core/fit/onto';
import { bendBones, FORM_SIZES, makeForm, SKELETONS } from '@/core/form';
import { formBase } from '@/core/form/samples';
import { seededRandom } from '@/core/math';
import type { Kind } from '@/core/words/kinds';
import { crownLumps } from '../demo/models/crown';
import { dropLumps } from '../demo/models/drop';
import { helmetLumps } from '../demo/models/helmet';
import { spectacleLumps } from '../demo/models/spectacles';

const POSES = [-60, -40, -20, 0, 20, 40, 60]
  .flatMap((yawDeg) => [{ yawDeg, pitchDeg: 0 }])
  .concat([-20, 20].map((pitchDeg) => ({ yawDeg: 0, pitchDeg })));
const [ab, ac, ap, q] = [new Vector3(), new Vector3(), new Vector3(), new Vector3()];
const RUNS = 5;
const median = (x: number[]) => x.sort((a, b) => a - b)[x.length >> 1];
const wearers = FORM_SIZES.map((size) => ({ size, form: makeForm(formBase(), size), body: null }));

/** A band round the head, of about so many triangles. */
function band(triangles: number) {
  const across = Math.max(4, Math.round(Math.sqrt(triangles / 16)));
  const g = new TorusGeometry(0.088, 0.006, across, Math.round(triangles / 2 / across)).rotateX(Math.PI / 2).translate(0, 0.05, -0.01);
  return { positions: Float32Array.from(g.getAttribute('position').array), triangles: Uint32Array.from(g.index?.array ?? []) };
}

/** Seen from the mirror's camera, hidden with a head a millimetre larger. */
const sight = { eyeM: [0, 0.01, 0.62] as const, hides: [{ region: 'head', growMm: 1, widenMm: 0, without: [], bare: [] }] as const };

function seconds(...shapes: ReturnType<typeof band>[]): number {
  const from = performance.now();
  const cast = new CastMeasure();
  for (const w of wearers)
    for (const pose of POSES) {
      const { head } = simulateCapture({ ...pose, rollDeg: 0 }, SKELETONS[w.size]);
      const b = bendBones(new Matrix4().fromArray(head as number[]), null, SKELETONS[w.size]);
      cast.measure(w.size, w, {
        shapes,
        frames: { head: b.head.toArray(), neck: b.neck.toArray(), bust: b.bust.toArray(), body: null },
        sight,
      });
    }
  return (performance.now() - from) / 1000;
}

const rows = [2_000, 20_000, 200_000].map((n) => {
  const shape = band(n);
  seconds(shape);
  return { n: shape.triangles.length / 3, s: median(Array.from({ length: RUNS }, () => seconds(shape))) };
});
for (const { n, s } of rows) console.log(`${n} triangles on 3 forms in 9 poses: ${s.toFixed(2)} s`);
// far from the skin all round, which is slow to ask about
const helmet = helmetLumps().map(({ geometry }) => ({
  positions: Float32Array.from(geometry.getAttribute('position').array, (x) => x / 1000),
  triangles: Uint32Array.from(geometry.index?.array ?? Array.from({ length: geometry.getAttribute('position').count }, (_, i) => i)),
}));
console.log(
  `the demo’s helmet, ${helmet.reduce((s, h) => s + h.triangles.length / 3, 0)} triangles: ${median(Array.from({ length: RUNS }, () => seconds(...helmet))).toFixed(2)} s`,
);
const power = Math.log(rows[2].s / rows[0].s) / Math.log(rows[2].n / rows[0].n);
console.log(`20 k triangles: ${rows[1].s.toFixed(2)} s (bound 1.5); grows with triangles to the power of ${power.toFixed(2)} (bound 1.1)`);

// signed distances beside every triangle tried
const { form } = wearers[1];
const field = new SurfaceField(form.positions.slice(), form.indices);
const random = seededRandom(3);
const asked = Array.from({ length: 400 }, () => {
  const v = Math.floor(random() * (form.positions.length / 3));
  return [0, 1, 2].map((k) => form.positions[v * 3 + k] + (random() - 0.5) * 0.05);
});
const timed = <T>(work: () => T): [number, T] => {
  const from = performance.now();
  const out = work();
  return [performance.now() - from, out];
};
const [ours, near] = timed(() => asked.map(([x, y, z]) => Math.abs(field.distance(x, y, z))));
const [whole, all] = timed(() => asked.map((p) => bruteForce(p)));
const off = Math.max(...near.map((d, i) => Math.abs(d - all[i])));
console.log(
  `${asked.length} distances: ${(whole / ours).toFixed(0)} × as fast as every triangle tried (bound 20), differing by ${off.toExponential(1)} m at most (bound 1e-6)`,
);
process.exitCode = rows[1].s > 1.5 || power > 1.1 || off > 1e-6 || whole / ours < 20 ? 1 : 0;

function bruteForce(at: readonly number[]): number {
  const [p, a, b, c] = [new Vector3(...(at as [number, number, number])), new Vector3(), new Vector3(), new Vector3()];
  let least = Infinity;
  for (let t = 0; t < form.indices.length; t += 3) {
    a.fromArray(form.positions, form.indices[t] * 3);
    b.fromArray(form.positions, form.indices[t + 1] * 3);
    c.fromArray(form.positions, form.indices[t + 2] * 3);
    least = Math.min(least, toTriangle(p, a, b, c));
  }
  return least;
}

/** Over the plane of a triangle where that is inside it, else over its three sides. */
function toTriangle(p: Vector3, a: Vector3, b: Vector3, c: Vector3): number {
  const n = ab.subVectors(b, a).clone().cross(ac.subVectors(c, a));
  const [d, area] = [ap.subVectors(p, a), n.lengthSq()];
  if (area > 0) {
    const g = ab.clone().cross(d).dot(n) / area;
    const h = d.clone().cross(ac).dot(n) / area;
    if (g >= 0 && h >= 0 && g + h <= 1) return Math.abs(d.dot(n)) / Math.sqrt(area);
  }
  let least = Infinity;
  for (const [s, e] of [
    [a, b],
    [b, c],
    [c, a],
  ]) {
    q.subVectors(e, s);
    const t = Math.max(0, Math.min(1, p.clone().sub(s).dot(q) / (q.lengthSq() || 1)));
    least = Math.min(least, p.distanceTo(q.multiplyScalar(t).add(s)));
  }
  return least;
}

/** Fit it: of things of about 20 k triangles, and of the demo's, how long until it is told where they lie. */
function fits(): void {
  const heads = FORM_SIZES.map((size) => headOf(makeForm(formBase(), size)));
  const timed = (name: string, kind: Kind, shapes: ThingShape[], runs: number) => {
    const triangles = shapes.reduce((s, { triangles: t }) => s + t.length / 3, 0);
    const times = Array.from({ length: runs }, (_, i) => {
      const from = performance.now();
      fitIt(shapes, { kind, gapM: 0.0005, keepSize: false }, heads[i % heads.length]);
      return (performance.now() - from) / 1000;
    });
    const [first, middle] = [times[0], median([...times])];
    console.log(`  ${name}, ${triangles} triangles: ${middle.toFixed(2)} s, the first on a head ${first.toFixed(2)} s`);
    return middle;
  };
  const fine = (triangles: number) => {
    const ring = Math.round(Math.sqrt(triangles / 8));
    const g = (s: number) => new TorusGeometry(0.024, 0.002, ring, 2 * ring).translate(s * 0.034, 0, 0);
    const rod = (s: number) => new TorusGeometry(0.13, 0.002, 8, 200, Math.PI / 3).rotateX(Math.PI / 2).translate(s * 0.07, 0, 0);
    return [g(1), g(-1), rod(1), rod(-1)].map((made) => ({
      positions: Float32Array.from(made.getAttribute('position').array),
      triangles: Uint32Array.from(made.index?.array ?? []),
      glass: false,
    }));
  };
  console.log('Fit it, median over three forms:');
  const middle = timed('rims and rods', 'eyewear', fine(20_000), RUNS);
  console.log(`  20 k triangles: ${middle.toFixed(2)} s (bound 2)`);
  const demo: [string, Kind, () => { geometry: BufferGeometry; finish: { alpha?: number } }[]][] = [
    ['tide-glass spectacles', 'eyewear', spectacleLumps],
    ['kelp crown', 'headwear', crownLumps],
    ['pearl drop', 'earring', dropLumps],
    ['diver’s helmet', 'fullhead', helmetLumps],
  ];
  const worst = Math.max(
    ...demo.map(([name, kind, lumps]) =>
      timed(
        name,
        kind,
        lumps().map(({ geometry, finish }) => ({
          positions: Float32Array.from(geometry.getAttribute('position').array, (x) => x / 1000),
          triangles: Uint32Array.from(
            geometry.index?.array ?? Array.from({ length: geometry.getAttribute('position').count }, (_, i) => i),
          ),
          glass: (finish.alpha ?? 1) < 1,
        })),
        RUNS,
      ),
    ),
  );
  console.log(`  the worst of the demo's: ${worst.toFixed(2)} s (bound 5)`);
}
fits();
