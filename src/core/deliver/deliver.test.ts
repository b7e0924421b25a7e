import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { type Document, type Node, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import { unzipSync } from 'fflate';
import { validateBytes } from 'gltf-validator';
import { MeshoptDecoder } from 'meshoptimizer';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { beforeAll, describe, expect, test } from 'vitest';
import { bentTube } from '../../../e2e/support/preparing';
import { nodeDraco } from '../../worker/node/codecs';
import { simulateCapture } from '../capture';
import { showAgain, wear } from '../fit';
import { darkSuit } from '../fit/samples';
import { makeForm, SKELETONS } from '../form';
import { restOfSize } from '../form/body';
import { formBase } from '../form/samples';
import { createGltfIo, readGltf, readModel, standIn } from '../intake';
import { boxGlb } from '../intake/samples';
import { poseAt, posedPrimitives } from '../model';
import {
  add,
  applyEdit,
  changePart,
  createGroup,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  drawnModel,
  type Edit,
  followAll,
  type Hang,
  hangOn,
  type Offset,
  onAnchor,
  onJoint,
  onPart,
  type Piece,
} from '../piece';
import { packDocument, packingOf, unpackDocument } from '../prepare';
import { readShape, shapeBox } from '../prepare/measure/shape';
import { sphere, surfaceDocument } from '../prepare/samples';
import { stageStill, worldVertices } from '../run';
import { BUNDLE_LIMITS, BundleError, blobsOf, DeliverError, packageContents, packBundle, packGlb, readBundle } from './index';

const sha256 = async (b: Uint8Array) => createHash('sha256').update(b).digest('hex');
const OFFSET: Offset = { positionM: [0.01, 0.02, 0.1], turnRad: [0.3, Math.PI, -0.2], size: [0.5, 0.5, 0.5] };
/** Debian's assimp-testmodels: files nobody here made. */
const MODELS = '/usr/share/assimp/models/glTF2';
const outside = [
  'simple_skin/simple_skin.gltf',
  'BoxTextured-glTF-Binary/BoxTextured.glb',
  '2CylinderEngine-glTF-Binary/2CylinderEngine.glb',
  'glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf',
].filter((f) => existsSync(`${MODELS}/${f}`));

async function asGlb(file: string): Promise<Uint8Array> {
  const path = `${MODELS}/${file}`;
  if (path.endsWith('.glb')) return readFileSync(path);
  const bytes = readFileSync(path);
  const companions = new Map<string, Uint8Array>();
  for (const { uri } of [...(JSON.parse(bytes.toString()).buffers ?? []), ...(JSON.parse(bytes.toString()).images ?? [])])
    if (uri && !uri.startsWith('data:'))
      companions.set(decodeURIComponent(uri), readFileSync(`${path.slice(0, path.lastIndexOf('/'))}/${decodeURIComponent(uri)}`));
  const { document } = await readGltf(bytes, {}, companions);
  await document.transform(unpartition());
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}

async function pieceOf(glb: Uint8Array, edits: Edit[] = []): Promise<Piece> {
  const sha = await sha256(glb);
  let p = applyEdit(
    createPiece('Delivered'),
    add('stock', createModelItem({ id: 's', name: 'model.glb', original: sha, model: sha, bytes: glb.length })),
  );
  p = applyEdit(p, add('parts', { ...createModelPart('p', 's', 'Worn thing'), offset: OFFSET }));
  return edits.reduce(applyEdit, p);
}
const open = (glb: Uint8Array) => async () => createGltfIo({}).readBinary(glb as Uint8Array<ArrayBuffer>);
const issues = async (glb: Uint8Array) => (await validateBytes(glb, { maxIssues: 0 })).issues.messages;

describe('packGlb', () => {
  test.each(['meshopt', 'draco'] as const)(
    'packed with %s where its recipe asks for it: lighter, valid, and in the same place',
    async (method) => {
      const glb = await new WebIO().writeBinary(surfaceDocument('ball', sphere(0.08), 48, 24));
      const plain = await packGlb(await pieceOf(glb), open(glb), nodeDraco);
      const sha = await sha256(glb);
      const steps = [
        { id: 'q', on: true, step: 'quantise' as const, settings: { positionBits: 14, normalBits: 8, uvBits: 12 } },
        { id: 'c', on: true, step: 'compress' as const, settings: { method } },
      ];
      const piece = await pieceOf(glb, [add('recipes', { id: 's', ...{ steps, result: sha } })]);
      const packed = await packGlb(piece, open(glb), nodeDraco);
      expect(packed.byteLength).toBeLessThan(plain.byteLength / 2);
      expect((await issues(packed)).filter((m) => m.severity === 0)).toEqual([]);
      const box = (d: Document) => shapeBox(readShape(d));
      const [a, b] = [
        box(await createGltfIo({}).readBinary(plain as Uint8Array<ArrayBuffer>)),
        box(await unpackDocument(packed, await nodeDraco())),
      ];
      expect(a.min.distanceTo(b.min)).toBeLessThan(2e-5);
      expect(a.max.distanceTo(b.max)).toBeLessThan(2e-5);
    },
  );

  test('one root node named Head, the part under it by its name, no form and no occluder', async () => {
    const glb = await boxGlb();
    const doc = await new WebIO().readBinary((await packGlb(await pieceOf(glb), open(glb), nodeDraco)) as Uint8Array<ArrayBuffer>);
    const roots = doc.getRoot().getDefaultScene()?.listChildren() ?? [];
    expect(roots.map((n) => n.getName())).toEqual(['Head']);
    expect(roots[0].listChildren().map((n) => n.getName())).toEqual(['Worn thing']);
    expect(doc.getRoot().listMeshes()).toHaveLength(1);
    expect(roots[0].getTranslation()).toEqual([0, 0, 0]);
  });

  test.each(outside)(
    '%s: delivered vertices equal evaluation within 0.01 mm at three times, and no validator error or new complaint',
    async (file) => {
      const glb = await asGlb(file);
      const piece = await pieceOf(glb);
      const delivered = await packGlb(piece, open(glb), nodeDraco);
      const model = readModel(await createGltfIo({}).readBinary(glb as Uint8Array<ArrayBuffer>));
      const back = readModel(await createGltfIo({}).readBinary(delivered as Uint8Array<ArrayBuffer>));
      const seconds = model.clips[0]?.seconds ?? 1;
      for (const t of [0, seconds * 0.37, seconds * 0.81]) {
        const staged = stageStill(
          piece,
          { models: { [drawnModel(piece, 's') as string]: model } },
          simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M, t),
        ).parts[1];
        const want = worldVertices(staged, model).map((p) => p.positions);
        const got = posedPrimitives(back, poseAt(back, 0, t)).map((p) => p.positions);
        expect(got.map((p) => p.length)).toEqual(want.map((p) => p.length));
        const scale = Math.max(1, ...want.flatMap((p) => Array.from(p.subarray(0, 600), Math.abs)));
        let worst = 0;
        want.forEach((p, k) => {
          for (let i = 0; i < p.length; i += 3)
            worst = Math.max(worst, Math.hypot(p[i] - got[k][i], p[i + 1] - got[k][i + 1], p[i + 2] - got[k][i + 2]));
        });
        // 0.01 mm, for models of up to a metre; float32 carries no more on larger ones
        expect(worst, `at ${t} s`).toBeLessThan(1e-5 * scale);
      }
      // a place without the numbers delivery gives anew: nodes get holders, accessors and views are packed again
      const place = (m: { code: string; pointer?: string }) =>
        `${m.code} ${(m.pointer ?? '').replace(/\/(nodes|accessors|bufferViews|buffers|animations|samplers)\/\d+/g, '/$1/*')}`;
      const before = new Set((await issues(glb)).map(place));
      const after = await issues(delivered);
      expect(after.filter((m) => m.severity === 0)).toEqual([]);
      expect(after.map(place).filter((p) => !before.has(p))).toEqual([]);
    },
  );

  test('hidden, unhung, clear and loose things stay behind, with their reasons', async () => {
    const glb = await boxGlb();
    let piece = await pieceOf(glb);
    for (const [id, extra] of [
      ['h', { visible: false }],
      ['u', { hang: null }],
      ['c', { opacity: 0 }],
    ] as const)
      piece = applyEdit(piece, add('parts', { ...createModelPart(id, 's', id), ...extra }));
    piece = applyEdit(piece, add('stock', { ...piece.stock.s, id: 'spare', name: 'spare.glb' }));
    const { parts, leftOut } = packageContents(piece);
    expect(parts.map((p) => p.id)).toEqual(['p']);
    expect(leftOut).toEqual([
      { name: 'Form M', why: 'the wearer stands in for it' },
      { name: 'Head block', why: 'an occluder; a GLB cannot carry it' },
      { name: 'h', why: 'hidden' },
      { name: 'u', why: 'not hung' },
      { name: 'c', why: 'fully transparent' },
      { name: 'spare.glb', why: 'in Stock, not a part' },
    ]);
  });

  test('an opacity of a half halves the alpha; drawn solid takes it away', async () => {
    const glb = await boxGlb([0.05, 0.05, 0.05], [0, 0, 0], 0.4);
    const material = async (edits: Edit[]) =>
      (await new WebIO().readBinary((await packGlb(await pieceOf(glb, edits), open(glb), nodeDraco)) as Uint8Array<ArrayBuffer>))
        .getRoot()
        .listMaterials()[0];
    expect((await material([changePart('p', { opacity: 0.5 })])).getAlpha()).toBeCloseTo(0.2, 6);
    const solid = await material([changePart('p', { solid: true })]);
    expect([solid.getAlpha(), solid.getAlphaMode()]).toEqual([1, 'OPAQUE']);
  });

  test('an opaque material made half clear is half clear, whatever alpha it did not use', async () => {
    const document = await new WebIO().readBinary((await boxGlb([0.05, 0.05, 0.05], [0, 0, 0], 0.4)) as Uint8Array<ArrayBuffer>);
    document.getRoot().listMaterials()[0].setAlphaMode('OPAQUE');
    const glb = await new WebIO().writeBinary(document);
    const piece = await pieceOf(glb, [changePart('p', { opacity: 0.5 })]);
    const [material] = (await new WebIO().readBinary((await packGlb(piece, open(glb), nodeDraco)) as Uint8Array<ArrayBuffer>))
      .getRoot()
      .listMaterials();
    expect([material.getAlpha(), material.getAlphaMode()]).toEqual([0.5, 'BLEND']);
  });

  test('weights of a skinned mesh are moved where the mesh is put: as a clip of three plays them', async () => {
    const source = bentTube(12, 12);
    const buffer = source.getRoot().listBuffers()[0];
    const values = (type: 'SCALAR', array: number[]) =>
      source.createAccessor().setType(type).setArray(new Float32Array(array)).setBuffer(buffer);
    const sampler = source
      .createAnimationSampler()
      .setInterpolation('LINEAR')
      .setInput(values('SCALAR', [0, 1]))
      .setOutput(values('SCALAR', [0, 1]));
    const node = source
      .getRoot()
      .listNodes()
      .find((n) => n.getMesh()) as Node;
    source
      .getRoot()
      .listAnimations()[0]
      .addSampler(sampler)
      .addChannel(source.createAnimationChannel().setSampler(sampler).setTargetNode(node).setTargetPath('weights'));
    const glb = await new WebIO().writeBinary(source);
    const delivered = await new WebIO().readBinary((await packGlb(await pieceOf(glb), open(glb), nodeDraco)) as Uint8Array<ArrayBuffer>);
    const channel = delivered
      .getRoot()
      .listAnimations()
      .flatMap((a) => a.listChannels())
      .find((c) => c.getTargetPath() === 'weights');
    expect(channel?.getTargetNode()?.getMesh()?.listPrimitives()[0].listTargets()).toHaveLength(1);
  });

  test('what a model was packed with on the way in is not asked for of who opens the package', async () => {
    const ball = surfaceDocument('ball', sphere(0.08), 24, 12);
    const glb = await packDocument(ball, packingOf([{ step: 'compress', settings: { method: 'meshopt' } }]), null);
    await MeshoptDecoder.ready;
    const packed = async () => createGltfIo({ meshopt: MeshoptDecoder }).readBinary(glb as Uint8Array<ArrayBuffer>);
    const plain = await packGlb(await pieceOf(glb), packed, nodeDraco);
    const json = JSON.parse(
      new TextDecoder().decode(plain.subarray(20, 20 + new DataView(plain.buffer, plain.byteOffset).getUint32(12, true))),
    );
    expect(json.extensionsUsed ?? []).not.toContain('EXT_meshopt_compression');
  });

  test('a stand-in for a picture that never came is no picture to publish', async () => {
    const document = await new WebIO().readBinary((await boxGlb()) as Uint8Array<ArrayBuffer>);
    const texture = document.createTexture('brass');
    document.getRoot().listMaterials()[0].setBaseColorTexture(texture);
    standIn(texture, 'brass_BaseColor.png', 'baseColor' as never);
    const glb = await new WebIO().writeBinary(document);
    const delivered = await new WebIO().readBinary((await packGlb(await pieceOf(glb), open(glb), nodeDraco)) as Uint8Array<ArrayBuffer>);
    expect(delivered.getRoot().listTextures()).toEqual([]);
    expect(delivered.getRoot().listMaterials()[0].getBaseColorTexture()).toBeNull();
  });

  test('two parts of one file share its shapes', async () => {
    const glb = await boxGlb();
    const one = await packGlb(await pieceOf(glb), open(glb), nodeDraco);
    const two = await packGlb(await pieceOf(glb, [add('parts', createModelPart('q', 's', 'Again'))]), open(glb), nodeDraco);
    expect(two.length - one.length).toBeLessThan(600);
  });

  test('what hangs on the face lies where the form at rest has it, each place under a node of its own', async () => {
    const forms = { M: makeForm(formBase(), 'M') };
    const on = [
      { kind: 'face' as const, landmark: 'labialeInferius' as const },
      { kind: 'face' as const, triangle: 812, bary: [0.2, 0.3, 0.5] as [number, number, number] },
      { kind: 'eye' as const, side: 'left' as const },
    ];
    const box = (id: string) => ({
      ...createSolid(id, id, { form: 'box', sizeMm: [4, 4, 4], roundMm: 0, wallMm: 1, open: [] }),
      offset: {
        positionM: [0, 0, 0.003] as [number, number, number],
        turnRad: [0, 0.3, 0] as [number, number, number],
        size: [1, 1, 1] as [number, number, number],
      },
    });
    const piece = await pieceOf(
      await boxGlb(),
      on.map((anchor, i) => add('parts', { ...box(`f${i}`), hang: hangOn(anchor) })),
    );
    const glb = await boxGlb();
    const delivered = await packGlb(piece, open(glb), nodeDraco, forms);
    const gltf = await new GLTFLoader().parseAsync(delivered.slice().buffer as ArrayBuffer, '');
    gltf.scene.updateMatrixWorld(true);
    expect(gltf.scene.children).toHaveLength(4);
    const state = stageStill(piece, { models: {}, forms }, simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M));
    for (const [i] of on.entries()) {
      const there = gltf.scene.getObjectByName(`f${i}`)?.matrixWorld.elements ?? [];
      const want = state.parts.find((p) => p.id === `f${i}`)?.matrix ?? [];
      expect(there.length).toBe(16);
      for (const [k, x] of there.entries()) expect(x, `f${i} ${k}`).toBeCloseTo(want[k], 6);
    }
  });

  test('groups, solids, parts on bones and on three anchors stand where the run puts them, by another reader', async () => {
    const glb = await boxGlb();
    const named = await new WebIO().readBinary(glb as Uint8Array<ArrayBuffer>);
    named.getRoot().listNodes()[0].setName('tip').setTranslation([0, 0.05, 0]);
    const model = await new WebIO().writeBinary(named);
    const at = (x: number, y: number, turnRad: Offset['turnRad'] = [0, 0, 0], size = 1): Offset => ({
      positionM: [x, y, 0.02],
      turnRad,
      size: [size, size, size],
    });
    const box = (id: string, hang: Hang, offset: Offset) =>
      add('parts', { ...createSolid(id, id, { form: 'cone', sizeMm: [30, 50, 30], roundMm: 0, wallMm: 5, open: [] }, hang), offset });
    const piece = await pieceOf(model, [
      add('parts', { ...createGroup('hat', 'hat'), offset: at(0, 0.12, [0.1, 0.4, 0], 1.5) }),
      box('a', onPart('hat'), at(0.02, 0, [0, 0, 0.5])),
      box('b', onPart('a'), at(0, 0.03)),
      box('c', onPart('p', 'tip'), at(0.01, 0.01)),
      box('d', onAnchor('shoulders'), at(-0.1, 0.05)),
      box('e', onAnchor('neck'), at(0, -0.01)),
      box('f', onAnchor('screen'), at(0, 0)),
      add('parts', createGroup('bare', 'bare')),
      changePart('d', {
        follow: { ...followAll(), roll: false, trail: { placeHalfLifeMs: 100, turnHalfLifeMs: 0, sizeHalfLifeMs: 0, deadZoneM: 0 } },
      }),
    ]);
    const delivered = await packGlb(piece, open(model), nodeDraco);
    expect((await issues(delivered)).filter((m) => m.severity === 0)).toEqual([]);
    const { parts, leftOut, lost } = packageContents(piece);
    expect(parts.map((p) => p.id)).toEqual(['p', 'hat', 'a', 'b', 'c', 'd', 'e']);
    expect(leftOut).toContainEqual({ name: 'f', why: 'hangs on the picture’s edges; a GLB cannot carry it' });
    expect(lost).toEqual([{ name: 'd', why: 'does not follow roll, lags behind' }]);
    const gltf = await new GLTFLoader().parseAsync(delivered.slice().buffer as ArrayBuffer, '');
    gltf.scene.updateMatrixWorld(true);
    expect(gltf.scene.children.map((c) => c.name).sort()).toEqual(['Head', 'Neck', 'Shoulders']);
    const state = stageStill(
      piece,
      { models: { [drawnModel(piece, 's') as string]: readModel(await createGltfIo({}).readBinary(model as Uint8Array<ArrayBuffer>)) } },
      simulateCapture({ yawDeg: 0, pitchDeg: 0, rollDeg: 0 }, SKELETONS.M),
    );
    for (const id of ['a', 'b', 'c', 'd', 'e']) {
      const there = gltf.scene.getObjectByName(id)?.matrixWorld.elements ?? [];
      const want = state.parts.find((p) => p.id === id)?.matrix ?? [];
      expect(there.length).toBe(16);
      for (const [i, x] of there.entries()) expect(x, `${id} ${i}`).toBeCloseTo(want[i], 6);
    }
    expect(gltf.scene.getObjectByName('d')?.userData).toMatchObject({ scaphos: { follow: { roll: false } } });
  });

  test('a garment stands under the body, without what is left out of it, and says what moves it; a joint’s node is where the joint rests', async () => {
    const glb = await darkSuit();
    const bones = { pelvis: 'hips', upperarm_l: 'leftUpperArm', lowerarm_l: 'leftLowerArm', hand_l: 'leftHand' };
    const bare = await pieceOf(glb);
    const worn = { bones, hides: ['arms', 'hands'], under: [] } as never;
    const piece = [
      wear(bare, 'p', worn),
      showAgain(bare, 'main', 'hands', () => 'again'),
      add(
        'parts',
        createSolid('ring', 'Ring', { form: 'ring', sizeMm: [20, 4, 20], roundMm: 0, wallMm: 2, open: [] }, onJoint('leftHand')),
      ),
    ].reduce(applyEdit, bare);
    const out = await packGlb(piece, open(glb), nodeDraco);
    expect((await issues(out)).filter((m) => m.severity === 0)).toEqual([]);
    const root = (await createGltfIo({}).readBinary(out as Uint8Array<ArrayBuffer>)).getRoot();
    const named = (name: string) => root.listNodes().find((n) => n.getName() === name) as Node;
    const [x, y, z] = restOfSize('M').headOffsetM;
    expect(
      named('Body')
        .getTranslation()
        .map((v) => v + 0),
    ).toEqual([-x + 0, -y + 0, -z + 0]);
    expect(named('Worn thing').getParentNode()).toBe(named('Body'));
    expect(named('Worn thing').getExtras()).toMatchObject({ scaphos: { worn: { bones, hides: ['arms', 'hands'] } } });
    const wrist = restOfSize('M').skeleton.rest.leftHand.place;
    for (const [k, v] of named('Left wrist').getWorldTranslation().entries())
      expect(v).toBeCloseTo(wrist.getComponent(k) - [x, y, z][k], 6);
    // counted by another way: triangles of which every corner is the left arm's
    const [whole, less] = await Promise.all(
      [glb, out].map(async (b) => {
        const read = readModel(await createGltfIo({}).readBinary(b as Uint8Array<ArrayBuffer>));
        const node = read.nodes.find((n) => n.skin >= 0);
        if (!node) throw new Error('no skin');
        const p = read.meshes[node.mesh].primitives[0];
        const arm = new Set(read.skins[node.skin].joints.flatMap((j, i) => (/arm_l|hand_l/.test(read.nodes[j].name) ? [i] : [])));
        const ofArm = (v: number) => [0, 1, 2, 3].every((k) => (p.weights?.[v * 4 + k] ?? 0) === 0 || arm.has(p.joints?.[v * 4 + k] ?? -1));
        let left = 0;
        for (let i = 0; i < p.triangles.length; i += 3) if ([0, 1, 2].every((k) => ofArm(p.triangles[i + k]))) left++;
        return { left, all: p.triangles.length / 3 };
      }),
    );
    expect(whole.left).toBeGreaterThan(300);
    expect(less.left).toBe(0);
    expect(whole.all - less.all).toBeGreaterThanOrEqual(whole.left);
    // the other arm's bones were not told: it stays
    expect(less.all).toBeGreaterThan(whole.all * 0.7);
    expect(packageContents(piece).lost.find((l) => l.name === 'Worn thing')?.why).toBe(
      'goes with the body’s joints, the wearer’s hands before it',
    );
  });

  test('nothing hung is refused in words, not delivered empty', async () => {
    const glb = await boxGlb();
    const piece = await pieceOf(glb, [changePart('p', { hang: null })]);
    await expect(packGlb(piece, open(glb), nodeDraco)).rejects.toThrow(DeliverError);
  });
});

describe('the bundle', () => {
  let piece: Piece;
  let bundle: Uint8Array;
  let glb: Uint8Array;
  beforeAll(async () => {
    glb = await boxGlb();
    piece = await pieceOf(glb);
    bundle = await packBundle(piece, new Map([[piece.stock.s.original, glb]]), sha256);
  });

  test('gives the same piece and blobs back, and the same bytes each time', async () => {
    const back = await readBundle(bundle, sha256);
    expect(back.piece).toEqual(piece);
    expect([...back.blobs.keys()]).toEqual(blobsOf(piece));
    expect(await packBundle(back.piece, back.blobs, sha256)).toEqual(bundle);
  });

  test('with any one byte edited it is refused', async () => {
    for (let at = 0; at < bundle.length; at += 7) {
      const edited = bundle.slice();
      edited[at] ^= 1;
      await expect(readBundle(edited, sha256), `byte ${at}`).rejects.toThrow(BundleError);
    }
  });

  test('cut short, or another zip, or no zip: refused in words', async () => {
    await expect(readBundle(bundle.slice(0, -40), sha256)).rejects.toThrow(/no seal/);
    await expect(readBundle(new TextEncoder().encode('hello'.repeat(30)), sha256)).rejects.toThrow(/not a zip/);
  });

  test('a blob that is not what its name says is refused, though the seal fits', async () => {
    const other = await packBundle(piece, new Map([[piece.stock.s.original, new TextEncoder().encode('something else')]]), sha256);
    await expect(readBundle(other, sha256)).rejects.toThrow(/not what its name says/);
  });

  test('a bundle up to each limit is read, one over it refused', async () => {
    const entries = Object.values(unzipSync(bundle));
    const whole = {
      bytes: bundle.length,
      entries: entries.length,
      unpackedBytes: entries.reduce((sum, b) => sum + b.length, 0),
    };
    expect((await readBundle(bundle, sha256, whole)).piece).toEqual(piece);
    for (const [limit, words] of [
      ['bytes', /The bundle has \d+ bytes/],
      ['entries', /more than \d+ entries/],
      ['unpackedBytes', /unpacks to more than/],
    ] as const)
      await expect(readBundle(bundle, sha256, { ...whole, [limit]: whole[limit] - 1 })).rejects.toThrow(words);
  });

  test('limits leave room for what a yard may hold', () => {
    expect(BUNDLE_LIMITS).toEqual({ bytes: 600e6, entries: 2_000, unpackedBytes: 1e9 });
  });

  test('a blob that is not at hand stops the packing', async () => {
    await expect(packBundle(piece, new Map(), sha256)).rejects.toThrow(/not at hand/);
  });
});
