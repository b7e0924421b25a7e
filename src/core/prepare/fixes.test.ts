/** Every finding: a thing with the fault has it, its twin has nothing; every fix takes it away, twice does no more, and the result is valid glTF. */

import { type Accessor, type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { Vector3 } from 'three';
import { describe, expect, test } from 'vitest';
import {
  accessor,
  addClip,
  addShape,
  addTexture,
  BLUE,
  BRASS,
  createRigged,
  createThing,
  cube,
  picture,
  type Rigged,
  setIndex,
  type Thing,
} from '../../../e2e/support/faulty';
import { nodePictures } from '../../worker/node/pictures';
import { bodyBase } from '../form/samples';
import {
  createGltfIo,
  type Finding,
  inspectModel,
  judgeFindings,
  type Kind,
  openGltf,
  ownCredit,
  type PictureBrief,
  pictureLook,
  readCredit,
  readGltf,
  readModel,
  type StockFacts,
} from '../intake';
import type { RecipeStep, StepDraft } from '../piece/recipe';
import { readPictures, runRecipe } from './index';

type Spoil<T> = (t: T) => void | Promise<void>;
const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS);

async function inspect(glb: Uint8Array): Promise<StockFacts> {
  const read = await readGltf(glb, {});
  const { issues } = await validateBytes(glb, { maxIssues: 0 });
  return inspectModel(read, glb.length, {
    issues: issues.messages,
    pictures: await readPictures(read.document, nodePictures),
    credit: readCredit(openGltf(glb).json),
  });
}
const judge = (facts: StockFacts, kind: Kind | null = null, pictures: PictureBrief[] = []) =>
  judgeFindings(facts, { kind, credit: ownCredit(facts), changed: false, pictures });
const codes = (list: readonly Finding[]) => [...new Set(list.map((f) => f.code))].sort();

async function run(glb: Uint8Array, drafts: readonly StepDraft[], pictures = new Map<string, Uint8Array>()): Promise<Uint8Array> {
  const document = await createGltfIo({}).readBinary(glb as Uint8Array<ArrayBuffer>);
  const steps = drafts.map((d, i) => ({ ...d, id: `s${i}`, on: true }) as RecipeStep);
  await runRecipe(document, steps, {
    ...nodePictures,
    model: async () => null,
    body: async () => bodyBase(),
    picture: async (sha) => (pictures.has(sha) ? { bytes: pictures.get(sha) as Uint8Array, mime: 'image/png' } : null),
  });
  return io().writeBinary(document);
}

const edit = (t: Thing, name: string, change: (v: Float32Array) => void) => {
  const a = t.primitive.getAttribute(name);
  const values = Float32Array.from(a?.getArray() as Float32Array);
  change(values);
  a?.setArray(values);
};
const zero = (t: Thing, name: string) => edit(t, name, (v) => v.fill(0, 0, 3));

/** code, what is done to the clean cube, and whether it can be mended. */
const CUBE: [code: string, spoil: Spoil<Thing>, mends: boolean][] = [
  ['geometry/degenerate', (t) => setIndex(t, (l) => [...l, 0, 1, 1]), true],
  ['geometry/duplicates', (t) => setIndex(t, (l) => [...l, l[0], l[1], l[2]]), true],
  ['geometry/flipped', (t) => setIndex(t, (l) => [l[0], l[2], l[1], ...l.slice(3)]), true],
  [
    'geometry/inwards',
    (t) => {
      setIndex(t, (l) => l.map((_, i) => l[i - (i % 3) + [0, 2, 1][i % 3]]));
      t.material.setExtension('KHR_materials_unlit', t.document.createExtension(KHRMaterialsUnlit).createUnlit());
    },
    true,
  ],
  [
    'geometry/non-manifold',
    (t) =>
      addShape(t, {
        position: [0.05, 0.05, -0.05, 0.05, 0.05, 0.05, 0.09, 0.09, 0],
        normal: [0.71, -0.71, 0, 0.71, -0.71, 0, 0.71, -0.71, 0],
        uv: [0.01, 0.01, 0.012, 0.01, 0.01, 0.012],
        index: [0, 1, 2],
      }),
    false,
  ],
  ['geometry/open-edges', (t) => setIndex(t, (l) => l.slice(3)), true],
  ['geometry/inner-shells', (t) => addShape(t, { ...cube(0.01), uv: cube(0.01).uv.map((x) => x * 0.01) }), true],
  [
    'geometry/crumbs',
    (t) =>
      addShape(t, {
        position: [0.045, 0.06, 0, 0.0455, 0.06, 0, 0.045, 0.06, -0.0005],
        normal: [0, 1, 0, 0, 1, 0, 0, 1, 0],
        uv: [0.001, 0.001, 0.002, 0.001, 0.001, 0.002],
        index: [0, 1, 2],
      }),
    true,
  ],
  ['geometry/normals-missing', (t) => void t.primitive.setAttribute('NORMAL', null), true],
  ['geometry/normals-zero', (t) => zero(t, 'NORMAL'), true],
  [
    'geometry/normals-opposed',
    (t) =>
      edit(t, 'NORMAL', (v) =>
        v.forEach((x, i) => {
          v[i] = -x;
        }),
      ),
    true,
  ],
  ['geometry/tangents', (t) => void t.primitive.setAttribute('TANGENT', accessor(t.document, 'VEC4', new Float32Array(96))), true],
  [
    'geometry/tangents-missing',
    async (t) => void t.material.setNormalTexture(addTexture(t.document, 'n.png', await picture(64, 64, BLUE, 20))),
    false,
  ],
  ['geometry/uv-missing', (t) => void t.primitive.setAttribute('TEXCOORD_0', null), false],
  [
    'geometry/uv-outside',
    (t) =>
      edit(t, 'TEXCOORD_0', (v) => {
        v[0] = 1.7;
      }),
    false,
  ],
  ['geometry/uv-overlap', (t) => edit(t, 'TEXCOORD_0', (v) => v.copyWithin(0, 8, 16)), false],
  ['geometry/unused-vertices', (t) => addShape(t, { position: [0, 0, 0], normal: [0, 1, 0], uv: [0.5, 0.5], index: [] }), true],
  [
    'geometry/unwelded',
    (t) => {
      addShape(t, cube(0.05));
      setIndex(t, (l) => [...l.slice(36, 60), ...l.slice(24, 36)]);
    },
    true,
  ],
  [
    'texture/large',
    async (t) => void t.material.getBaseColorTexture()?.setImage((await picture(2048, 64, BRASS)) as Uint8Array<ArrayBuffer>),
    true,
  ],
  [
    'texture/alpha-unused',
    async (t) => void t.material.getBaseColorTexture()?.setImage((await picture(64, 64, [...BRASS, 255])) as Uint8Array<ArrayBuffer>),
    true,
  ],
  [
    'texture/duplicates',
    async (t) => void t.material.setEmissiveTexture(addTexture(t.document, 'again.png', await picture(64, 64, BRASS))),
    true,
  ],
  [
    'texture/role',
    async (t) => void t.material.setBaseColorTexture(addTexture(t.document, 'n.png', await picture(64, 64, BLUE, 20))),
    true,
  ],
  [
    'texture/not-packed',
    async (t) =>
      void t.material
        .setOcclusionTexture(addTexture(t.document, 'ao.png', await picture(64, 64, [200, 200, 200])))
        .setMetallicRoughnessTexture(addTexture(t.document, 'mr.png', await picture(32, 32, [255, 120, 240]))),
    true,
  ],
  [
    'texture/unreadable',
    (t) =>
      void t.material
        .getBaseColorTexture()
        ?.setImage(
          new Uint8Array([
            0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 0, 1, 0, 0, 0, 1, 8, 2, 0, 0, 0,
          ]),
        ),
    false,
  ],
  [
    'material/duplicates',
    (t) => {
      const m = t.document.createMaterial('Twin').setBaseColorTexture(t.material.getBaseColorTexture());
      const c = cube(0.02, [0.09, 0, 0]);
      t.mesh.addPrimitive(
        t.document
          .createPrimitive()
          .setMaterial(m)
          .setAttribute('POSITION', accessor(t.document, 'VEC3', new Float32Array(c.position)))
          .setAttribute('NORMAL', accessor(t.document, 'VEC3', new Float32Array(c.normal)))
          .setAttribute('TEXCOORD_0', accessor(t.document, 'VEC2', new Float32Array(c.uv)))
          .setIndices(accessor(t.document, 'SCALAR', new Uint16Array(c.index))),
      );
    },
    true,
  ],
  ['material/blend-opaque', (t) => void t.material.setAlphaMode('BLEND'), true],
  ['material/double-sided', (t) => void t.material.setDoubleSided(true), true],
  [
    'material/unlit',
    async (t) =>
      void t.material
        .setExtension('KHR_materials_unlit', t.document.createExtension(KHRMaterialsUnlit).createUnlit())
        .setNormalTexture(addTexture(t.document, 'n.png', await picture(64, 64, BLUE, 20))),
    true,
  ],
  ['material/lit', (t) => void t.material.setEmissiveTexture(t.material.getBaseColorTexture()).setEmissiveFactor([1, 1, 1]), true],
  ['placing/mirrored', (t) => void t.node.setScale([-1, 1, 1]), true],
  ['placing/uneven-scale', (t) => void t.node.setScale([1, 2, 1]), true],
  ['placing/unapplied', (t) => void t.node.setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]), true],
  ['placing/far', (t) => void t.node.setTranslation([9, 0, 0]), true],
  ['placing/pivot', (t) => void t.node.setTranslation([0, 0.2, 0]), true],
  [
    'licence/unknown',
    (t) => {
      delete t.document.getRoot().getAsset().copyright;
    },
    false,
  ],
  [
    'licence/author-missing',
    (t) => {
      t.document.getRoot().getAsset().copyright = 'CC-BY-4.0';
    },
    false,
  ],
  [
    'licence/credit',
    (t) => {
      t.document.getRoot().getAsset().copyright = '© 2026 Ada Reed, CC BY 4.0';
    },
    false,
  ],
  [
    'licence/no-selling',
    (t) => {
      t.document.getRoot().getAsset().copyright = '© 2026 Ada Reed, CC BY-NC 4.0';
    },
    false,
  ],
  [
    'licence/same',
    (t) => {
      t.document.getRoot().getAsset().copyright = '© 2026 Ada Reed, CC BY-SA 4.0';
    },
    false,
  ],
  [
    'licence/read',
    (t) => {
      t.document.getRoot().getAsset().copyright = 'GPL-3.0-only';
    },
    false,
  ],
  [
    'gltf/doubtful',
    (t) => {
      const list = t.primitive.getIndices();
      list?.setArray((list.getArray() as Uint16Array<ArrayBuffer>).slice(0, -1));
    },
    false,
  ],
];

const RIG: [code: string, spoil: Spoil<Rigged>, mends: boolean][] = [
  [
    'rig/skin-not-root',
    (t) =>
      void t.document
        .getRoot()
        .getDefaultScene()
        ?.addChild(t.document.createNode('holder').setTranslation([0, 0.01, 0]).addChild(t.node)),
    true,
  ],
  [
    'rig/influences',
    (t) => {
      const w = new Float32Array(96);
      const first = t.primitive.getAttribute('WEIGHTS_0');
      const a = Float32Array.from(first?.getArray() as Float32Array);
      for (let i = 0; i < 24; i++) {
        a[i * 4] = 0.6;
        w[i * 4] = 0.4;
      }
      first?.setArray(a);
      const j = new Uint16Array(96).map((_, i) => (i % 4 === 0 ? 1 : 0));
      t.primitive.setAttribute('JOINTS_1', accessor(t.document, 'VEC4', j)).setAttribute('WEIGHTS_1', accessor(t.document, 'VEC4', w));
    },
    true,
  ],
  [
    'rig/weights',
    (t) =>
      edit(t, 'WEIGHTS_0', (v) => {
        v[0] = 0.5;
      }),
    true,
  ],
  [
    'rig/unused-bones',
    (t) => {
      const idle = t.document.createNode('idle');
      t.bones[1].addChild(idle);
      const skin = t.document.getRoot().listSkins()[0].addJoint(idle);
      const m = skin.getInverseBindMatrices();
      m?.setArray(new Float32Array([...(m.getArray() as Float32Array), 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]));
    },
    true,
  ],
  [
    'rig/bind-scale',
    (t) => {
      const m = t.document.getRoot().listSkins()[0].getInverseBindMatrices();
      const v = Float32Array.from(m?.getArray() as Float32Array);
      for (const i of [16, 21, 26]) v[i] = 2;
      m?.setArray(v);
      t.bones[1].setScale([0.5, 0.5, 0.5]);
    },
    false,
  ],
  ['clip/constant-tracks', (t) => addClip(t.document, 'sway', t.bones[0], [0, 1], [0, -0.05, 0, 0, -0.05, 0], 'translation'), true],
  ['clip/empty', (t) => addClip(t.document, 'pose', t.bones[0], [0], [0, 0, 0, 1]), false],
  ['clip/loop-gap', (t) => addClip(t.document, 'walk', t.bones[0], [0, 1], [0, -0.05, 0, 0, 0.05, 0], 'translation'), false],
];

async function check(make: () => Promise<Thing>, code: string, spoil: (t: never) => void | Promise<void>, mends: boolean): Promise<void> {
  const twin = await make();
  expect(codes(judge(await inspect(await io().writeBinary(twin.document))))).toEqual([]);
  const faulty = await make();
  await spoil(faulty as never);
  const glb = await io().writeBinary(faulty.document);
  const told = judge(await inspect(glb));
  // every word that is said of it, and the step that is offered: read when they change, then `vitest -u`
  expect(told).toMatchSnapshot();
  const found = told.filter((f) => f.code === code);
  expect(found.length).toBeGreaterThan(0);
  const fix = found.find((f) => f.fix)?.fix;
  expect(fix !== undefined).toBe(mends);
  if (!fix) return;
  expect(fix.changes.length).toBeGreaterThan(0);
  const once = await run(glb, [fix]);
  expect(codes(judge(await inspect(once)).filter((f) => f.code === code))).toEqual([]);
  // a change of size or place is not asked for twice; what is a state stays one
  if (fix.step !== 'transform' || fix.settings.apply) expect(Buffer.compare(await run(once, [fix]), once)).toBe(0);
  const { issues } = await validateBytes(once, { maxIssues: 0 });
  expect(issues.messages.filter((m) => m.severity === 0)).toEqual([]);
}

describe('a fault, its twin and its fix', () => {
  test.each(CUBE)('%s', (code, spoil, mends) => check(createThing, code, spoil as never, mends));
  test.each(RIG)('%s', (code, spoil, mends) => check(createRigged, code, spoil as never, mends));

  test('many of a kind are counted, the first three named; what has no name is told by its number', async () => {
    const t = await createThing();
    const scene = t.document.getRoot().getDefaultScene();
    for (const [i, size] of (
      [
        [1, 2, 1],
        [1, 1, 2],
        [2, 1, 1],
        [1, 3, 1],
      ] as const
    ).entries())
      scene?.addChild(
        t.document
          .createNode(i === 1 ? '' : `stretched ${i}`)
          .setMesh(t.mesh)
          .setScale([...size])
          .setTranslation([0.3 * (i + 1), 0, 0]),
      );
    const told = judge(await inspect(await io().writeBinary(t.document))).find((f) => f.code === 'placing/uneven-scale');
    expect(told?.message).toMatch(/^4 nodes stretch their shapes unevenly/);
    expect(told?.where).toMatch(/^stretched 0, node \d, stretched 2 and 1 more$/);
  });

  test('rig: weights over four bones are whole, whichever of them carries; the root of a skin is no idle bone', async () => {
    const t = await createRigged();
    edit(t, 'WEIGHTS_0', (v) => {
      for (let i = 0; i < v.length; i += 4) v.set([0.1, 0.2, 0.3, 0.4], i);
    });
    t.primitive.setAttribute(
      'JOINTS_0',
      accessor(
        t.document,
        'VEC4',
        new Uint16Array(96).map((_, i) => (i % 4 === 3 ? 1 : 0)),
      ),
    );
    const said = judge(await inspect(await io().writeBinary(t.document))).map((f) => f.code);
    expect(said.filter((c) => c.startsWith('rig/'))).toEqual([]);
    const idle = t.document.createNode('root');
    t.bones[1].addChild(idle);
    const skin = t.document.getRoot().listSkins()[0].addJoint(idle).setSkeleton(idle);
    const m = skin.getInverseBindMatrices();
    m?.setArray(new Float32Array([...(m.getArray() as Float32Array), 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]));
    const rooted = judge(await inspect(await io().writeBinary(t.document))).map((f) => f.code);
    expect(rooted).not.toContain('rig/unused-bones');
  });

  test('material/double-sided: of several shapes in a mesh, only where all that wear it are closed', async () => {
    const told = async (open: boolean) => {
      const t = await createThing();
      t.material.setDoubleSided(true);
      const bare = cube(0.02, [0.09, 0, 0]);
      const list = open ? bare.index.slice(3) : bare.index;
      const beside = t.document
        .createPrimitive()
        .setAttribute('POSITION', accessor(t.document, 'VEC3', new Float32Array(bare.position)))
        .setAttribute('NORMAL', accessor(t.document, 'VEC3', new Float32Array(bare.normal)))
        .setAttribute('TEXCOORD_0', accessor(t.document, 'VEC2', new Float32Array(bare.uv)))
        .setIndices(accessor(t.document, 'SCALAR', new Uint16Array(list)));
      t.mesh.addPrimitive(beside);
      const said = async () => judge(await inspect(await io().writeBinary(t.document))).map((f) => f.code);
      // the one beside has a material of its own, or none: its holes are not this one’s
      const apart = await said();
      beside.setMaterial(t.material);
      return [apart.includes('material/double-sided'), (await said()).includes('material/double-sided')];
    };
    expect(await told(false)).toEqual([true, true]);
    expect(await told(true)).toEqual([true, false]);
  });

  test('geometry/not-finite: a blocker, its corner out, the rest whole', async () => {
    const t = await createThing();
    edit(t, 'POSITION', (v) => {
      v[0] = Number.POSITIVE_INFINITY;
    });
    const glb = await io().writeBinary(t.document);
    const facts = await inspect(glb);
    const [found] = judge(facts).filter((f) => f.code === 'geometry/not-finite');
    expect(found).toMatchObject({ level: 'blocker' });
    const mended = await inspect(await run(glb, [found.fix as StepDraft]));
    expect(mended.findings.map((f) => f.code)).not.toContain('geometry/not-finite');
    expect(mended.triangles).toBe(10);
  });

  test('rig/bones-over: 51 bones are told, 50 are not', async () => {
    for (const [bones, told] of [
      [50, false],
      [51, true],
    ] as const) {
      const t = await createRigged();
      const skin = t.document.getRoot().listSkins()[0];
      const m = skin.getInverseBindMatrices() as Accessor;
      const all = [...(m.getArray() as Float32Array)];
      for (let i = 2; i < bones; i++) {
        const node = t.document.createNode(`b${i}`);
        t.bones[1].addChild(node);
        skin.addJoint(node);
        all.push(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1);
      }
      m.setArray(new Float32Array(all));
      expect(codes(judge(await inspect(await io().writeBinary(t.document)))).includes('rig/bones-over')).toBe(told);
    }
  });

  test('gltf/invalid: indices past the vertices, in plain words and by the validator’s code', async () => {
    const t = await createThing();
    setIndex(t, (l) => [...l, 500, 0, 1]);
    const facts = await inspect(await io().writeBinary(t.document));
    expect(judge(facts).find((f) => f.code === 'gltf/invalid')).toMatchObject({
      level: 'blocker',
      message: expect.stringMatching(/^Triangles name vertices that are not there.*\[ACCESSOR_INDEX_OOB\]$/),
    });
  });

  test('texture/missing: named, with its slot; a picture of that name is put in, its UV set kept', async () => {
    const t = await createThing();
    t.material.getBaseColorTextureInfo()?.setTexCoord(0);
    const { json, resources } = await io().writeJSON(t.document);
    const image = json.images?.[0];
    const buffer = json.buffers?.[0];
    if (!image || !buffer?.uri) throw new Error('no image, or no buffer');
    image.uri = 'C:\\work\\Textures\\brass_BaseColor.png';
    delete image.bufferView;
    const files = new Map([[buffer.uri, resources[buffer.uri]]]);
    const read = await readGltf(new TextEncoder().encode(JSON.stringify(json)), {}, files);
    const glb = await io().writeBinary(read.document);
    const facts = await inspect(glb);
    expect(facts.textures).toEqual([]);
    expect(facts.wanted).toEqual([{ name: image.uri, slots: [{ material: 'Brass', role: 'base colour' }], broken: false }]);
    const png = await picture(32, 32, BRASS);
    const stats = await nodePictures.read(png);
    const at: PictureBrief = {
      name: 'maps/Brass_BaseColor.png',
      sha: nodePictures.sha256(png),
      width: 32,
      height: 32,
      look: pictureLook(stats),
    };
    const [found] = judge(facts, null, [at]).filter((f) => f.code === 'texture/missing');
    expect(found.fix?.changes[0]).toContain('the name that is asked for');
    const once = await run(glb, [found.fix as StepDraft], new Map([[at.sha, png]]));
    const mended = await inspect(once);
    expect(mended.textures).toMatchObject([{ name: 'Brass_BaseColor.png', width: 32 }]);
    expect(codes(judge(mended))).toEqual([]);
    expect(Buffer.compare(await run(once, [found.fix as StepDraft], new Map([[at.sha, png]])), once)).toBe(0);
  });

  test('licence/forbids: changed, where no changes are permitted', async () => {
    const t = await createThing();
    t.document.getRoot().getAsset().copyright = '© 2026 Ada Reed, CC BY-ND 4.0';
    const facts = await inspect(await io().writeBinary(t.document));
    const of = (changed: boolean) => codes(judgeFindings(facts, { kind: null, credit: ownCredit(facts), changed, pictures: [] }));
    expect([of(false), of(true)]).toEqual([['licence/credit'], ['licence/credit', 'licence/forbids']]);
  });
});

describe('what fixes keep', () => {
  test('a cube with a face missing is closed again: volume and area as before (0.1³ m³, 6 × 0.1² m²), the cover facing outwards', async () => {
    const t = await createThing();
    setIndex(t, (l) => l.slice(3));
    const mended = await run(await io().writeBinary(t.document), [{ step: 'mend', settings: { ops: ['close'] } }]);
    const { positions: p, triangles: l } = readModel((await readGltf(mended, {})).document).meshes[0].primitives[0];
    let [volume, area] = [0, 0];
    for (let i = 0; i < l.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => new Vector3().fromArray(p, l[i + k] * 3));
      volume += a.clone().dot(b.clone().cross(c)) / 6;
      area += b.sub(a).cross(c.sub(a)).length() / 2;
    }
    expect(volume).toBeCloseTo(0.001, 9);
    expect(area).toBeCloseTo(0.06, 8);
  });

  test('facing outwards again, every normal of the cube stands on its face (exact: ±1 along one axis)', async () => {
    const t = await createThing();
    setIndex(t, (l) => l.flatMap((_, i) => (i % 3 === 0 ? [l[i], l[i + 2], l[i + 1]] : [])));
    const glb = await io().writeBinary(t.document);
    const [found] = judge(await inspect(glb)).filter((f) => f.code === 'geometry/flipped');
    const mended: Document = await io().readBinary((await run(glb, [found.fix as StepDraft])) as Uint8Array<ArrayBuffer>);
    const p = mended.getRoot().listMeshes()[0].listPrimitives()[0];
    const [position, normal] = [p.getAttribute('POSITION') as Accessor, p.getAttribute('NORMAL') as Accessor];
    for (let i = 0; i < position.getCount(); i++) {
      const n = normal.getElement(i, []);
      const axis = n.map(Math.abs).indexOf(Math.max(...n.map(Math.abs)));
      expect(Math.abs(n[axis])).toBeCloseTo(1, 6);
      expect(Math.sign(position.getElement(i, [])[axis])).toBe(Math.sign(n[axis]));
    }
  });

  test('normals of a sphere point away from its middle within 4°, whatever its triangulation', async () => {
    const { SphereGeometry } = await import('three');
    const g = new SphereGeometry(0.05, 24, 16);
    const t = await createThing();
    t.primitive
      .setAttribute('POSITION', accessor(t.document, 'VEC3', new Float32Array(g.getAttribute('position').array)))
      .setAttribute('NORMAL', null)
      .setAttribute('TEXCOORD_0', accessor(t.document, 'VEC2', new Float32Array(g.getAttribute('uv').array)))
      .setIndices(accessor(t.document, 'SCALAR', new Uint16Array(g.getIndex()?.array ?? [])));
    const mended = await io().readBinary(
      (await run(await io().writeBinary(t.document), [
        { step: 'mend', settings: { ops: ['degenerate', 'normals'] } },
      ])) as Uint8Array<ArrayBuffer>,
    );
    const p = mended.getRoot().listMeshes()[0].listPrimitives()[0];
    let worst = 0;
    for (let i = 0; i < (p.getAttribute('POSITION')?.getCount() ?? 0); i++) {
      const [a, n] = [p.getAttribute('POSITION')?.getElement(i, []) as number[], p.getAttribute('NORMAL')?.getElement(i, []) as number[]];
      const cos = a.reduce((s, x, k) => s + x * n[k], 0) / Math.hypot(...a);
      worst = Math.max(worst, (Math.acos(Math.min(1, cos)) * 180) / Math.PI);
    }
    expect(worst).toBeLessThan(4);
  });

  test('a pane whose rim sits in its frame is not taken out as hidden', async () => {
    const { TorusGeometry, CircleGeometry } = await import('three');
    const t = await createThing();
    const part = (g: InstanceType<typeof TorusGeometry> | InstanceType<typeof CircleGeometry>) => ({
      position: [...g.getAttribute('position').array],
      normal: [...g.getAttribute('normal').array],
      uv: [...g.getAttribute('uv').array],
      index: [...(g.getIndex()?.array ?? [])],
    });
    addShape(t, part(new TorusGeometry(0.2, 0.02, 12, 40)));
    addShape(t, part(new CircleGeometry(0.2, 40)));
    const facts = await inspect(await io().writeBinary(t.document));
    expect(codes(facts.findings)).not.toContain('geometry/inner-shells');
  });
});
