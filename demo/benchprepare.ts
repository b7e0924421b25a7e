/**
 * `./scaphos bench prepare`: against two general optimisers at equal bytes and at equal error. Scored with a distance sampling of
 * its own (three-mesh-bvh), not with the solver's; times are ratios in one run.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { BufferAttribute, BufferGeometry, Matrix4, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { seededRandom } from '@/core/math';
import type { RecipeStep } from '@/core/piece';
import { NO_LIMITS } from '@/core/prepare';
import { addSurface, blob, rippledTorus, sphere, surfaceDocument } from '@/core/prepare/samples';
import { measure, solveBudget } from '@/worker/node';
import { helmetGlb } from './models/helmet';

const tools = process.env.SCAPHOS_RIVALS ?? '';
const need = (name: string) => {
  const path = join(tools, 'node_modules', name);
  if (!tools || !existsSync(path)) throw new Error(`${name} is missing: scripts/bench installs it`);
  return path;
};
const gltfpack = join(need('gltfpack'), 'cli.js');
const transform = join(need('@gltf-transform/cli'), 'bin', 'cli.js');
const dir = mkdtempSync(join(tmpdir(), 'scaphos-bench-'));
const io = new WebIO()
  .registerExtensions(ALL_EXTENSIONS)
  .registerDependencies({ 'draco3d.decoder': await draco3d.createDecoderModule(), 'meshopt.decoder': MeshoptDecoder });
await MeshoptDecoder.ready;

interface Triangles {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** All triangles of a file in world space, read here by plain means. */
async function trianglesOf(glb: Uint8Array): Promise<Triangles> {
  const document = await io.readBinary(glb as Uint8Array<ArrayBuffer>);
  const positions: number[] = [];
  const triangles: number[] = [];
  const v = new Vector3();
  const row: number[] = [];
  for (const node of document.getRoot().listNodes()) {
    const world = new Matrix4().fromArray(node.getWorldMatrix());
    for (const p of node.getMesh()?.listPrimitives() ?? []) {
      const at = p.getAttribute('POSITION');
      if (!at || p.getMode() !== 4) continue;
      const first = positions.length / 3;
      for (let i = 0; i < at.getCount(); i++) {
        at.getElement(i, row);
        v.set(row[0], row[1], row[2]).applyMatrix4(world);
        positions.push(v.x, v.y, v.z);
      }
      const list = p.getIndices()?.getArray() ?? Uint32Array.from({ length: at.getCount() }, (_, i) => i);
      for (const i of list) triangles.push(first + i);
    }
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) };
}

const bvhOf = ({ positions, triangles }: Triangles) => {
  const g = new BufferGeometry();
  g.setAttribute('position', new BufferAttribute(positions, 3));
  g.setIndex(new BufferAttribute(triangles.slice(), 1));
  return new MeshBVH(g);
};

/** Points by area, unstratified: another sampling than the solver's. */
function points({ positions: p, triangles: t }: Triangles, count: number, seed: number): Vector3[] {
  const sums: number[] = [];
  let total = 0;
  const [a, b, c] = [new Vector3(), new Vector3(), new Vector3()];
  const corner = (i: number, out: Vector3) => out.fromArray(p, t[i] * 3);
  for (let i = 0; i < t.length; i += 3) {
    corner(i, a);
    corner(i + 1, b).sub(a);
    corner(i + 2, c).sub(a);
    total += b.cross(c).length();
    sums.push(total);
  }
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => {
    const want = random() * total;
    let [lo, hi] = [0, sums.length - 1];
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (sums[mid] < want) lo = mid + 1;
      else hi = mid;
    }
    const r = Math.sqrt(random());
    const s = random();
    corner(lo * 3, a);
    corner(lo * 3 + 1, b);
    corner(lo * 3 + 2, c);
    return new Vector3()
      .addScaledVector(a, 1 - r)
      .addScaledVector(b, r * (1 - s))
      .addScaledVector(c, r * s);
  });
}

const meanTo = (list: Vector3[], bvh: MeshBVH) => {
  const out = { point: new Vector3(), distance: 0, faceIndex: 0 };
  let sum = 0;
  for (const x of list) {
    bvh.closestPointToPoint(x, out);
    sum += out.distance;
  }
  return sum / list.length;
};

interface Score {
  bytes: number;
  meanMm: number;
}

async function main(): Promise<void> {
  const bunny = createRequire(join(tools, 'x.js'))('bunny') as { positions: number[][]; cells: number[][] };
  const models: [string, () => Promise<Uint8Array>][] = [
    [
      'bunny (npm)',
      async () =>
        io.writeBinary(
          rawDocument(
            bunny.positions.flat().map((x) => x / 1000),
            bunny.cells.flat(),
          ),
        ),
    ],
    ['ball', async () => io.writeBinary(surfaceDocument('ball', sphere(0.1), 160, 80))],
    ['rippled torus', async () => io.writeBinary(surfaceDocument('torus', rippledTorus(0.08, 0.03, 9), 200, 80))],
    ['detailed blob', async () => io.writeBinary(surfaceDocument('blob', blob(0.1), 240, 120))],
    ['heap of 60 parts', async () => io.writeBinary(heap())],
    ["diver's helmet (demo)", helmetGlb],
    ...['/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb']
      .filter(existsSync)
      .map((f): [string, () => Promise<Uint8Array>] => [
        '2CylinderEngine (assimp-testmodels)',
        async () => new Uint8Array(readFileSync(f)),
      ]),
  ];
  console.log(
    'mean two-sided distance at equal bytes (ours / rival) and bytes at equal distance (ours / rival); under 1 is lighter or nearer',
  );
  const atBytes: number[] = [];
  const atError: number[] = [];
  for (const [name, make] of models) {
    const glb = await make();
    const path = join(dir, 'in.glb');
    writeFileSync(path, glb);
    const before = await trianglesOf(glb);
    const [beforeBvh, beforePoints] = [bvhOf(before), points(before, 20_000, 101)];
    const score = async (file: string): Promise<Score> => {
      const after = await trianglesOf(new Uint8Array(readFileSync(file)));
      const mean = (meanTo(beforePoints, bvhOf(after)) + meanTo(points(after, 20_000, 202), beforeBvh)) / 2;
      return { bytes: statSync(file).size, meanMm: mean * 1000 };
    };
    const rivals: Record<string, Score[]> = { gltfpack: [], transform: [] };
    const out = join(dir, 'out.glb');
    for (const r of [0.6, 0.4, 0.25, 0.15, 0.08]) {
      execFileSync(process.execPath, [gltfpack, '-i', path, '-o', out, '-cc', '-si', String(r)], { stdio: 'ignore' });
      rivals.gltfpack.push(await score(out));
      execFileSync(
        process.execPath,
        [
          transform,
          'optimize',
          path,
          out,
          '--compress',
          'meshopt',
          '--simplify-ratio',
          String(r),
          '--simplify-error',
          '0.05',
          '--texture-compress',
          'false',
        ],
        { stdio: 'ignore' },
      );
      rivals.transform.push(await score(out));
    }
    // our front over the bytes the rivals reach; pictures as they came, so that geometry is compared with geometry
    const limits = {
      ...NO_LIMITS,
      bytes: Math.round(
        Math.min(
          ...Object.values(rivals)
            .flat()
            .map((s) => s.bytes),
        ) * 0.6,
      ),
    };
    const solution = await solveBudget({ path, bytes: glb.length, steps: [], pictures: {}, kind: null, limits });
    const ours: Score[] = [];
    const picked = solution.front.filter((_, i) => i % Math.ceil(solution.front.length / 10) === 0 || i === solution.front.length - 1);
    for (const p of picked) {
      const steps = p.steps.filter((s) => s.step !== 'pictures').map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);
      await measure({ path, bytes: glb.length, steps, pictures: {}, kind: null, measure: 'none', out });
      ours.push(await score(out));
    }
    ours.sort((a, b) => a.bytes - b.bytes);
    for (const [rival, list] of Object.entries(rivals)) {
      const e = list.flatMap((s) => ratio(between(ours, s.bytes, 'bytes', 'meanMm'), s.meanMm));
      const b = list.flatMap((s) => ratio(between(ours, s.meanMm, 'meanMm', 'bytes'), s.bytes));
      atBytes.push(...e);
      atError.push(...b);
      console.log(`${name.padEnd(36)} ${rival.padEnd(10)} at equal bytes ${show(e)}   at equal distance ${show(b)}`);
    }
  }
  console.log(
    `median over all: distance at equal bytes ${median(atBytes).toFixed(2)} ×, worst ${Math.max(...atBytes).toFixed(2)} ×; bytes at equal distance ${median(atError).toFixed(2)} ×, worst ${Math.max(...atError).toFixed(2)} ×`,
  );
}

/** Where a rival lies beyond our front, it is compared with the front's end on the side that is no better for us; else left out. */
function between(list: Score[], x: number, from: keyof Score, to: keyof Score): number | null {
  const sorted = [...list].filter((s) => s[from] > 0 && s[to] > 0).sort((a, b) => a[from] - b[from]);
  if (sorted.length === 0 || x < sorted[0][from]) return null;
  const k = sorted.findIndex((s) => s[from] >= x);
  if (k <= 0) return k === 0 ? sorted[0][to] : sorted[sorted.length - 1][to];
  const [a, b] = [sorted[k - 1], sorted[k]];
  const t = (Math.log(x) - Math.log(a[from])) / (Math.log(b[from]) - Math.log(a[from]));
  return Math.exp(Math.log(a[to]) + t * (Math.log(b[to]) - Math.log(a[to])));
}
const ratio = (ours: number | null, theirs: number): number[] => (ours === null || !(theirs > 0) ? [] : [ours / theirs]);
const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] ?? Number.NaN;
const show = (list: number[]) =>
  list.length === 0
    ? 'no overlap'.padEnd(28)
    : `median ${median(list).toFixed(2)}, worst ${Math.max(...list).toFixed(2)} (${list.length})`.padEnd(28);

function rawDocument(positions: number[], triangles: number[]): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const p = document
    .createPrimitive()
    .setAttribute('POSITION', document.createAccessor().setType('VEC3').setArray(Float32Array.from(positions)).setBuffer(buffer))
    .setIndices(document.createAccessor().setArray(Uint32Array.from(triangles)).setBuffer(buffer));
  document.createScene().addChild(document.createNode('bunny').setMesh(document.createMesh('bunny').addPrimitive(p)));
  return document;
}

function heap(): Document {
  const document = new Document();
  const random = seededRandom(9);
  for (let i = 0; i < 60; i++) {
    const r = 0.004 + 0.02 * random();
    const at: [number, number, number] = [0.1 * (random() - 0.5), 0.1 * random(), 0.1 * (random() - 0.5)];
    addSurface(
      document,
      `part ${i}`,
      i % 3 ? (i % 3 === 1 ? blob(r) : sphere(r)) : rippledTorus(r, r / 3, 5),
      40,
      20,
      document.createMaterial(`m${i % 4}`),
      at,
    );
  }
  return document;
}

await main().finally(() => rmSync(dir, { recursive: true, force: true }));
