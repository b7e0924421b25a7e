/** The solver and the recipe steps it uses, on models whose surface is known and on files nobody here made. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Document, WebIO } from '@gltf-transform/core';
import { KHRMaterialsTransmission } from '@gltf-transform/extensions';
import { cloneDocument } from '@gltf-transform/functions';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import { Vector3 } from 'three';
import { beforeAll, expect, describe as group, it, vi } from 'vitest';
import { spectaclesGlb } from '../../../../demo/models/spectacles';
import { nodeDraco, sha256Hex } from '../../../worker/node/codecs';
import { nodePictures } from '../../../worker/node/pictures';
import { readGltf, readModel } from '../../intake';
import { poseAt, posedPrimitives } from '../../motion/pose';
import type { RecipeStep, StepDraft } from '../../piece/recipe';
import { brokenLimits, unmetWords } from '../limits';
import { makeReference } from '../measure/error';
import { readShape, shapeBox } from '../measure/shape';
import type { DracoModules } from '../pack';
import { type RunTools, runMeasured, TextureCache } from '../run';
import { addSurface, blob, rippledTorus, sphere, surfaceDocument } from '../samples';
import { type Limits, NO_LIMITS, type Solution } from '../terms';
import { solve } from './solve';

vi.setConfig({ testTimeout: 240_000 });

let draco: DracoModules;
beforeAll(async () => {
  draco = await nodeDraco();
  await MeshoptDecoder.ready;
});

const tools = (): RunTools => ({
  ...nodePictures,
  picture: async () => null,
  draco,
  now: () => 0,
  progress: () => undefined,
});
const asRecipe = (steps: readonly StepDraft[]) => steps.map((s, i) => ({ ...s, id: `s${i}`, on: true }) as RecipeStep);

async function search(document: Document, limits: Partial<Limits>): Promise<Solution> {
  const cache = new TextureCache(nodePictures);
  const ref = makeReference(readShape(document), await cache.of(document), 0.5);
  const t = tools();
  return solve(cloneDocument(document), ref, (d) => cache.of(d), { ...NO_LIMITS, ...limits }, 0.5, { ...t, recipe: t });
}
const run = (document: Document, steps: readonly StepDraft[]) => runMeasured(document, 1_000_000, asRecipe(steps), 0.5, 'end', tools());

const errorsOf = async (glb: Uint8Array) => {
  const { issues } = await validateBytes(glb, { maxIssues: 0, writeTimestamp: false });
  return issues.messages.filter((m) => m.severity === 0).map((m) => `${m.code} ${m.pointer}`);
};

/** Noise of several sizes, as photographs have it. */
async function photo(size: number): Promise<Uint8Array> {
  const data = new Uint8Array(size * size * 4).fill(255);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++)
      for (let k = 0; k < 3; k++)
        data[(y * size + x) * 4 + k] =
          120 +
          60 * Math.sin(x / 23 + k) * Math.cos(y / 17) +
          30 * Math.sin(x / 3.1 + y / 2.3 + k) +
          ((x * 7919 + y * 104729 + k * 31) % 17);
  const { default: sharp } = await import('sharp');
  return new Uint8Array(
    await sharp(data, { raw: { width: size, height: size, channels: 4 } })
      .png()
      .toBuffer(),
  );
}

async function painted(): Promise<Document> {
  const document = surfaceDocument('ball', blob(0.09), 64, 32);
  const material = document.getRoot().listMaterials()[0];
  material.setBaseColorTexture(
    document
      .createTexture('skin')
      .setImage((await photo(256)) as Uint8Array<ArrayBuffer>)
      .setMimeType('image/png'),
  );
  return document;
}

group('the budget solver', () => {
  it('meets a limit, tells a front nothing on it beats, and its recipe gives the bytes and the error it told', async () => {
    const document = await painted();
    const s = await search(document, { bytes: 20_000, textureEdge: 128 });
    expect(s.met).toBe(true);
    for (let i = 1; i < s.front.length; i++) {
      expect(s.front[i].bytes).toBeGreaterThan(s.front[i - 1].bytes);
      if (i !== s.chosen) expect(s.front[i].e).toBeLessThan(Math.max(...s.front.slice(0, i).map((p) => p.e)));
    }
    const point = s.front[s.chosen];
    expect(point.bytes).toBeLessThanOrEqual(20_000);
    const made = await run(document, point.steps);
    expect(made.packed.byteLength).toBeLessThanOrEqual(20_000);
    expect(Math.abs(made.packed.byteLength / point.bytes - 1)).toBeLessThan(0.02);
    expect(made.e).toBeCloseTo(point.e, 3);
    expect(made.after.textureEdge).toBeLessThanOrEqual(128);
    expect(await errorsOf(made.packed)).toEqual([]);
    // what is not over the limit by much is not far from what could be had with all of it
    const dearer = s.front.filter((p) => p.bytes > 20_000).at(0);
    if (dearer) expect(dearer.e).toBeLessThanOrEqual(point.e);
  });
  it('finds the same again', async () => {
    const source = () => surfaceDocument('torus', rippledTorus(0.06, 0.02, 7), 24, 12);
    expect(await search(source(), { bytes: 2_000 })).toEqual(await search(source(), { bytes: 2_000 }));
  });
  it('a brute-force grid over triangles and bits finds no point that beats a point of the front in E by more than 3 % for no more bytes', async () => {
    const source = () => surfaceDocument('torus', rippledTorus(0.06, 0.02, 7), 48, 24);
    const s = await search(source(), { bytes: 5_000 });
    const grid: { e: number; bytes: number }[] = [];
    for (const ratio of [0.3, 0.5, 0.7, 0.9])
      for (const positionBits of [8, 9, 10, 11]) {
        const made = await run(source(), [
          { step: 'prune', settings: {} },
          { step: 'simplify', settings: { ratio, errorMm: null, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
          { step: 'reorder', settings: {} },
          { step: 'quantise', settings: { positionBits, normalBits: 7, uvBits: 10 } },
          { step: 'compress', settings: { method: 'draco' } },
        ]);
        grid.push({ e: made.e as number, bytes: made.packed.byteLength });
      }
    for (const p of s.front) {
      const best = Math.min(...grid.filter((g) => g.bytes <= p.bytes).map((g) => g.e));
      expect(p.e).toBeLessThanOrEqual(best * 1.03);
    }
    expect(s.front.length).toBeGreaterThan(8);
  });
  it('a limit that cannot be met says what would have to give, and gives the nearest', async () => {
    const s = await search(surfaceDocument('ball', sphere(0.1), 16, 8), { bytes: 300 });
    expect(s.met).toBe(false);
    expect(s.unmet.join()).toMatch(/lightest found.*would have to give/);
    expect(s.front[s.chosen].bytes).toBe(Math.min(...s.front.map((p) => p.bytes)));
  });
  it('many small parts are joined where the limit asks for it, and only there', async () => {
    const beads = () => {
      const document = surfaceDocument('bead 0', sphere(0.01), 10, 5);
      const material = document.getRoot().listMaterials()[0];
      for (let i = 1; i < 12; i++)
        addSurface(document, `bead ${i}`, sphere(0.01 + i * 2e-4), 10, 5, material, [0.03 * (i % 6), 0.03 * Math.floor(i / 6), 0]);
      return document;
    };
    const roomy = await search(beads(), { bytes: 40_000 });
    expect(roomy.front.flatMap((p) => p.steps).some((s) => s.step === 'merge')).toBe(false);
    const tight = await search(beads(), { bytes: 2_400 });
    expect(tight.met).toBe(true);
    expect(tight.front[tight.chosen].steps.map((s) => s.step)).toContain('merge');
    const made = await run(beads(), tight.front[tight.chosen].steps);
    expect(made.packed.byteLength).toBeLessThanOrEqual(2_400);
    expect(made.e).toBeCloseTo(tight.front[tight.chosen].e, 3);
    for (let i = 1; i < tight.front.length; i++) expect(tight.front[i].bytes).toBeGreaterThan(tight.front[i - 1].bytes);
  });
  it('a limit of triangles alone is kept, of several kinds all are', async () => {
    const s = await search(surfaceDocument('blob', blob(0.1), 48, 24), { triangles: 1_000, bytes: 60_000 });
    expect(s.met).toBe(true);
    expect(s.front[s.chosen].triangles).toBeLessThanOrEqual(1_000);
  });
  it('what tells of progress can stop it', async () => {
    const document = surfaceDocument('ball', sphere(0.1), 32, 16);
    const ref = makeReference(readShape(document), [], 0.5);
    const t = tools();
    const stop = () => {
      throw new Error('stopped');
    };
    await expect(solve(document, ref, async () => [], NO_LIMITS, 0.5, { ...t, progress: stop, recipe: t })).rejects.toThrow('stopped');
  });
});

/** A tube on four bones, bent by a clip, with a bulge as a morph target. */
function bentTube(): Document {
  const document = surfaceDocument('tube', (u, v) => [0.02 * Math.sin(u * 2 * Math.PI), v * 0.2, 0.02 * Math.cos(u * 2 * Math.PI)], 48, 64);
  const buffer = document.getRoot().listBuffers()[0];
  const put = (type: 'VEC3' | 'VEC4' | 'MAT4' | 'SCALAR', array: Float32Array | Uint16Array) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(array as Float32Array<ArrayBuffer>)
      .setBuffer(buffer);
  const node = document.getRoot().listNodes()[0];
  const primitive = document.getRoot().listMeshes()[0].listPrimitives()[0];
  const p = primitive.getAttribute('POSITION')?.getArray() as Float32Array;
  const n = p.length / 3;
  const joints = new Uint16Array(n * 4);
  const weights = new Float32Array(n * 4);
  const bulge = new Float32Array(n * 3);
  for (let i = 0; i < n; i++) {
    const at = Math.min(2.999, Math.max(0, (p[i * 3 + 1] / 0.2) * 4 - 0.5));
    joints.set([Math.floor(at), Math.floor(at) + 1, 0, 0], i * 4);
    weights.set([1 - (at % 1), at % 1, 0, 0], i * 4);
    const swell = 0.4 * Math.exp(-(((p[i * 3 + 1] - 0.1) / 0.02) ** 2));
    bulge.set([p[i * 3] * swell, 0, p[i * 3 + 2] * swell], i * 3);
  }
  primitive.setAttribute('JOINTS_0', put('VEC4', joints)).setAttribute('WEIGHTS_0', put('VEC4', weights));
  primitive.addTarget(document.createPrimitiveTarget('bulge').setAttribute('POSITION', put('VEC3', bulge)));
  const mesh = document
    .getRoot()
    .listMeshes()[0]
    .setWeights([0])
    .setExtras({ targetNames: ['bulge'] });
  const skin = document.createSkin('tube skin');
  const scene = document.getRoot().listScenes()[0];
  const animation = document.createAnimation('bend');
  let parent = node;
  for (let k = 0; k < 4; k++) {
    const bone = document.createNode(`bone ${k}`).setTranslation([0, k === 0 ? 0 : 0.05, 0]);
    if (k === 0) scene.addChild(bone);
    else parent.addChild(bone);
    parent = bone;
    skin.addJoint(bone);
    const sampler = document
      .createAnimationSampler()
      .setInterpolation('LINEAR')
      .setInput(put('SCALAR', new Float32Array([0, 1])))
      .setOutput(put('VEC4', new Float32Array([0, 0, 0, 1, 0, 0, Math.sin(0.15), Math.cos(0.15)])));
    animation
      .addSampler(sampler)
      .addChannel(document.createAnimationChannel().setSampler(sampler).setTargetNode(bone).setTargetPath('rotation'));
  }
  skin.setInverseBindMatrices(
    put(
      'MAT4',
      Float32Array.from({ length: 64 }, (_, i) =>
        i % 16 === 13 ? -0.05 * Math.floor(i / 16) : i % 5 === 0 && i % 16 <= 15 && (i % 16) % 5 === 0 ? 1 : 0,
      ),
    ),
  );
  const bind = skin.getInverseBindMatrices()?.getArray() as Float32Array;
  for (let k = 0; k < 4; k++) for (let i = 0; i < 16; i++) bind[k * 16 + i] = i % 5 === 0 ? 1 : i === 13 ? -0.05 * k : 0;
  node.setSkin(skin).setMesh(mesh);
  return document;
}

/** Directed distance from posed vertices of one model to those of the other's posed surface, mm, at a clip time. */
function posedGap(before: Document, after: Document, clip: number, t: number): number {
  const points = (d: Document) => {
    const model = readModel(d);
    return posedPrimitives(model, poseAt(model, clip, t));
  };
  const [a, b] = [points(before), points(after)];
  const cloud = a.flatMap((p) => Array.from({ length: p.positions.length / 3 }, (_, i) => new Vector3().fromArray(p.positions, i * 3)));
  let most = 0;
  for (const p of b)
    for (let i = 0; i < p.positions.length; i += 3) {
      const v = new Vector3().fromArray(p.positions, i);
      most = Math.max(most, Math.min(...cloud.map((c) => c.distanceTo(v))));
    }
  return most * 1000;
}

const names = (list: { getName(): string }[]) => list.map((x) => x.getName());

group('what a prepared model keeps', () => {
  it('skins, clips, morph targets and materials by name, its box, and where its vertices are while it moves', async () => {
    const source = bentTube();
    expect(await errorsOf(await new WebIO().writeBinary(source))).toEqual([]);
    const s = await search(source, { bytes: 12_000 });
    const made = await run(source, s.front[s.chosen].steps);
    expect(made.after.triangles).toBeLessThan(readShape(source).triangles.length / 3);
    expect(await errorsOf(made.packed)).toEqual([]);
    const [a, b] = [source.getRoot(), made.document.getRoot()];
    expect(names(b.listSkins())).toEqual(names(a.listSkins()));
    expect(names(b.listAnimations())).toEqual(names(a.listAnimations()));
    expect(names(b.listMaterials())).toEqual(names(a.listMaterials()));
    expect(b.listMeshes()[0].getExtras()).toEqual({ targetNames: ['bulge'] });
    expect(b.listMeshes()[0].listPrimitives()[0].listTargets()).toHaveLength(1);
    const [before, after] = [shapeBox(readShape(source)), shapeBox(readShape(made.document))];
    const maxMm = (made.error?.maxMm as number) + 0.05;
    expect(before.min.distanceTo(after.min) * 1000).toBeLessThan(maxMm * Math.sqrt(3));
    expect(before.max.distanceTo(after.max) * 1000).toBeLessThan(maxMm * Math.sqrt(3));
    // the nearest vertex of a fine mesh stands for its surface: half a cell of slack
    for (const t of [0.2, 0.6, 1]) expect(posedGap(source, made.document, 0, t)).toBeLessThan(maxMm + 2.2);
  });
  it('spectacles of the demo: valid, every mesh with triangles, every material', async () => {
    const { document } = await readGltf(await spectaclesGlb(), {});
    const s = await search(document, { bytes: 40_000, triangles: 3_000 });
    const made = await run(document, s.front[s.chosen].steps);
    expect(await errorsOf(made.packed)).toEqual([]);
    expect(names(made.document.getRoot().listMaterials()).sort()).toEqual(names(document.getRoot().listMaterials()).sort());
    for (const m of made.document.getRoot().listMeshes())
      for (const p of m.listPrimitives()) expect(p.getIndices()?.getCount() ?? 0).toBeGreaterThan(2);
  });
  const outside = [
    '/usr/share/assimp/models/glTF2/2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
    '/usr/share/assimp/models/glTF2/BoxTextured-glTF-Binary/BoxTextured.glb',
  ].filter(existsSync);
  it.each(outside)('%s: lighter with meshopt, with Draco, and with neither; valid each time', async (path) => {
    const { document } = await readGltf(new Uint8Array(readFileSync(path)), { draco: draco.decoder, meshopt: MeshoptDecoder });
    const sizes: number[] = [];
    for (const method of ['none', 'meshopt', 'draco'] as const) {
      const made = await run(document, [
        { step: 'prune', settings: {} },
        { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
        ...(method === 'none' ? [] : [{ step: 'compress' as const, settings: { method } }]),
      ]);
      sizes.push(made.packed.byteLength);
      expect(await errorsOf(made.packed)).toEqual([]);
      expect(made.error?.ssimWorst).toBeGreaterThan(0.97);
    }
    // a file of a few kilobytes pays more for the names of the extension than it saves
    expect(sizes[1]).toBeLessThanOrEqual(sizes[0] + 800);
    expect(sizes[2]).toBeLessThan(sizes[0]);
  });
  it('a second run of a recipe changes nothing but the order of bytes', async () => {
    const document = await painted();
    const steps: StepDraft[] = [
      { step: 'prune', settings: {} },
      { step: 'simplify', settings: { ratio: null, errorMm: 0.5, meshes: [], keepBorders: false, refit: true, detail: [], keep: [] } },
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 128, format: 'webp', quality: 80 }], textures: [] } },
    ];
    const [a, b] = [await run(document, steps), await run(document, steps)];
    expect(sha256Hex(b.packed)).toBe(sha256Hex(a.packed));
  });
});

group('pictures', () => {
  it('as they are encoded, another decoder reads them the same (ffmpeg)', async () => {
    const source = await photo(128);
    const dir = mkdtempSync(join(tmpdir(), 'pictures-'));
    try {
      for (const [format, quality, most] of [
        ['webp', 80, 1.5],
        ['jpeg', 80, 1.5],
        ['png', 100, 0],
      ] as const) {
        const made = await nodePictures.encode(source, { maxEdge: 64, format, quality, numbers: false, directions: false, alpha: false });
        const file = join(dir, `a.${format}`);
        writeFileSync(file, made.bytes);
        const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
        const own = await nodePictures.decode(made.bytes);
        expect([own.width, own.height]).toEqual([64, 64]);
        expect(raw.length).toBe(own.data.length);
        // chroma is spread over its pixels by other filters: the grey must agree
        const grey = (d: Uint8Array, i: number) => 0.299 * d[i] + 0.587 * d[i + 1] + 0.114 * d[i + 2];
        let sum = 0;
        for (let i = 0; i < raw.length; i += 4) sum += Math.abs(grey(own.data, i) - grey(raw, i));
        expect(sum / (raw.length / 4)).toBeLessThanOrEqual(most);
      }
    } finally {
      rmSync(dir, { recursive: true });
    }
  });
  it('a picture that would grow stays as it is', async () => {
    const document = await painted();
    const flat = await (await import('sharp'))
      .default({ create: { width: 32, height: 32, channels: 3, background: '#a33' } })
      .png()
      .toBuffer();
    document.getRoot().listTextures()[0].setImage(new Uint8Array(flat)).setMimeType('image/png');
    const made = await run(document, [
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 32, format: 'jpeg', quality: 100 }], textures: [] } },
    ]);
    expect(made.document.getRoot().listTextures()[0].getMimeType()).toBe('image/png');
  });
  it('alpha that a material reads is kept, and what has no alpha cannot hold it', async () => {
    const half = await (await import('sharp'))
      .default({ create: { width: 64, height: 64, channels: 4, background: { r: 200, g: 90, b: 40, alpha: 0.5 } } })
      .png()
      .toBuffer();
    for (const [format, alpha, mime] of [
      ['jpeg', true, 'image/png'],
      ['jpeg', false, 'image/jpeg'],
      ['webp', true, 'image/webp'],
    ] as const) {
      const made = await nodePictures.encode(new Uint8Array(half), {
        maxEdge: 64,
        format,
        quality: 90,
        numbers: false,
        directions: false,
        alpha,
      });
      expect(made.mime).toBe(mime);
      expect((await nodePictures.decode(made.bytes)).data[3]).toBe(alpha ? 128 : 255);
    }
  });
});

group('limits', () => {
  it('are told one by one, with what would have to give', () => {
    const w = {
      bytes: 900_000,
      triangles: 10,
      vertices: 1,
      textureBytes: 1,
      bones: 60,
      materials: 2,
      textureEdge: 2048,
      drawCalls: 3,
      deviceBytes: 9e6,
    };
    const limits = { ...NO_LIMITS, bytes: 500_000, bones: 50, textureEdge: 1024, triangles: 10 };
    expect(brokenLimits(w, limits)).toEqual(['bytes', 'textureEdge', 'bones']);
    expect(unmetWords(w, 100_000, limits)[0]).toMatch(
      /0\.9 MB, the limit is 0\.5 MB.*0\.1 MB of shapes.*0\.8 MB of pictures\. Fewer or smaller pictures/,
    );
    expect(brokenLimits(w, NO_LIMITS)).toEqual([]);
  });
});

group('what nobody meant', () => {
  it('places that are no numbers are left out of every measure, and do not stop the search', async () => {
    const d = surfaceDocument('ball', sphere(0.05), 16, 8);
    const p = d.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION');
    p?.setElement(20, [Number.NaN, 0, 0]).setElement(40, [Number.POSITIVE_INFINITY, 0, 0]);
    expect(shapeBox(readShape(d)).max.x).toBeCloseTo(0.05, 3);
    const s = await search(d, { bytes: 3_000 });
    for (const point of s.front) expect(Number.isFinite(point.e)).toBe(true);
    expect(Math.min(...s.front.map((point) => point.e))).toBeLessThan(1);
  });
  it('two pictures of one name each get what was chosen for them', async () => {
    const d = await painted();
    const other = new Uint8Array(
      await (await import('sharp'))
        .default({ create: { width: 128, height: 128, channels: 3, background: '#a33' } })
        .png()
        .toBuffer(),
    );
    d.getRoot()
      .listMaterials()[0]
      .setEmissiveFactor([1, 1, 1])
      .setEmissiveTexture(d.createTexture('skin').setImage(other).setMimeType('image/png'));
    const [a, b] = d.getRoot().listTextures();
    const made = await run(d, [
      {
        step: 'pictures',
        settings: {
          roles: [],
          textures: [
            { texture: 'skin', was: sha256Hex(a.getImage() as Uint8Array), maxEdge: 64, format: 'webp', quality: 80 },
            { texture: 'skin', was: sha256Hex(b.getImage() as Uint8Array), maxEdge: 32, format: 'png', quality: 100 },
          ],
        },
      },
    ]);
    expect(
      made.document
        .getRoot()
        .listTextures()
        .map((t) => [t.getSize()?.[0], t.getMimeType()]),
    ).toEqual([
      [64, 'image/webp'],
      [32, 'image/png'],
    ]);
  });
  it('a picture over its limit is made smaller even where it grows', async () => {
    const d = await painted();
    const flat = await (await import('sharp'))
      .default({ create: { width: 512, height: 512, channels: 3, background: '#a33' } })
      .webp({ quality: 1 })
      .toBuffer();
    d.getRoot().listTextures()[0].setImage(new Uint8Array(flat)).setMimeType('image/webp');
    const made = await run(d, [
      { step: 'pictures', settings: { roles: [{ role: 'color', maxEdge: 256, format: 'png', quality: 100 }], textures: [] } },
    ]);
    expect(made.after.textureEdge).toBe(256);
  });
});

group('other steps', () => {
  it.each(['none', 'meshopt', 'draco'] as const)('a skinned, morphed model packed with %s moves as before', async (method) => {
    const source = bentTube();
    const made = await run(source, [
      { step: 'quantise', settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
      ...(method === 'none' ? [] : [{ step: 'compress' as const, settings: { method } }]),
    ]);
    expect(await errorsOf(made.packed)).toEqual([]);
    const at = (d: Document, swell: number) => {
      const model = readModel(d);
      const pose = poseAt(model, 0, 0.6);
      model.nodes.forEach((n, i) => {
        if (n.mesh >= 0) pose.morphWeights.set(i, [swell]);
      });
      const box = { min: new Vector3(9, 9, 9), max: new Vector3(-9, -9, -9) };
      for (const p of posedPrimitives(model, pose))
        for (let i = 0; i < p.positions.length; i += 3) {
          const v = new Vector3().fromArray(p.positions, i);
          box.min.min(v);
          box.max.max(v);
        }
      return box;
    };
    for (const swell of [0, 1]) {
      const [a, b] = [at(source, swell), at(made.document, swell)];
      expect(a.min.distanceTo(b.min)).toBeLessThan(1e-4);
      expect(a.max.distanceTo(b.max)).toBeLessThan(1e-4);
    }
    expect(at(source, 1).max.z - at(source, 0).max.z).toBeGreaterThan(1e-3);
  });
  const boxOf = (d: Document) => shapeBox(readShape(d));
  it('pivot and ground put the origin where they say, and that is no error', async () => {
    const at = (): Document => {
      const d = surfaceDocument('ball', sphere(0.1), 24, 12);
      d.getRoot().listNodes()[0].setTranslation([0.3, 0.5, -0.2]);
      return d;
    };
    const base = await run(at(), [{ step: 'pivot', settings: { to: 'base', pointM: [0, 0, 0] } }]);
    expect(boxOf(base.document).min.y).toBeCloseTo(0, 6);
    expect(boxOf(base.document).min.x + boxOf(base.document).max.x).toBeCloseTo(0, 6);
    expect(base.error?.maxMm).toBeLessThan(0.01);
    const point = await run(at(), [{ step: 'pivot', settings: { to: 'point', pointM: [0.3, 0.6, -0.2] } }]);
    expect(boxOf(point.document).max.y).toBeCloseTo(0, 5);
    const ground = await run(at(), [{ step: 'ground', settings: {} }]);
    expect(boxOf(ground.document).min.y).toBeCloseTo(0, 6);
    expect(boxOf(ground.document).max.x).toBeCloseTo(0.4, 4);
  });
  it('hidden takes out a ball inside a ball and leaves the outer one whole; one behind glass stays', async () => {
    const nested = (glass: boolean) => {
      const d = surfaceDocument('outer', sphere(0.1), 48, 24);
      if (glass) d.getRoot().listMaterials()[0].setAlphaMode('BLEND').setBaseColorFactor([1, 1, 1, 0.3]);
      addSurface(d, 'inner', sphere(0.06), 24, 12, d.createMaterial('core'));
      return d;
    };
    const solid = await run(nested(false), [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
    expect(names(solid.document.getRoot().listMeshes())).toEqual(['outer']);
    expect(solid.after.triangles).toBe(2 * 48 * 24 - 2 * 48);
    expect(solid.e).toBeLessThan(0.05);
    const clear = await run(nested(true), [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
    expect(names(clear.document.getRoot().listMeshes())).toEqual(['outer', 'inner']);
    // glass by transmission is opaque to its alpha mode
    const d = nested(false);
    const transmission = d.createExtension(KHRMaterialsTransmission);
    d.getRoot().listMaterials()[0].setExtension('KHR_materials_transmission', transmission.createTransmission().setTransmissionFactor(1));
    const glass = await run(d, [{ step: 'hidden', settings: { inside: true, behind: [] } }]);
    expect(names(glass.document.getRoot().listMeshes())).toEqual(['outer', 'inner']);
  });
  it('merge joins what draws alike; bones over a limit follow their parents', async () => {
    const d = surfaceDocument('one', sphere(0.05), 16, 8);
    addSurface(
      d,
      'two',
      sphere(0.05),
      16,
      8,
      d.createMaterial('same').setBaseColorFactor([0.7, 0.5, 0.3, 1]).setMetallicFactor(0),
      [0.2, 0, 0],
    );
    const merged = await run(d, [{ step: 'merge', settings: { materials: true, meshes: true } }]);
    expect(merged.after.materials).toBe(1);
    expect(merged.after.drawCalls).toBe(1);
    expect(merged.error?.maxMm).toBeLessThan(0.01);
    const boned = await run(bentTube(), [{ step: 'bones', settings: { dropUnused: true, fourInfluences: true, limit: 2 } }]);
    expect(boned.after.bones).toBe(2);
    expect(await errorsOf(boned.packed)).toEqual([]);
    expect(boned.error?.maxMm).toBeLessThan(0.01);
  });
  it('clips lose the keys between that a line gives anyway', async () => {
    const d = bentTube();
    const sampler = d.getRoot().listAnimations()[0].listSamplers()[0];
    sampler.getInput()?.setArray(Float32Array.from({ length: 101 }, (_, i) => i / 100));
    sampler
      .getOutput()
      ?.setArray(
        Float32Array.from(
          { length: 404 },
          (_, i) => [0, 0, Math.sin(0.0015 * Math.floor(i / 4)), Math.cos(0.0015 * Math.floor(i / 4))][i % 4],
        ),
      );
    const made = await run(d, [{ step: 'clips', settings: { resample: true, dropConstant: true } }]);
    expect(made.document.getRoot().listAnimations()[0].listSamplers()[0].getInput()?.getCount()).toBeLessThan(10);
    expect(names(made.document.getRoot().listAnimations())).toEqual(['bend']);
  });
});
