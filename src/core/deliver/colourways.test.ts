/** Colourways in a GLB: KHR_materials_variants, by the validator and by three's own loader; those of a file kept and edited. */
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type Clearcoat, KHRMaterialsClearcoat, KHRMaterialsVariants } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { type Material, Mesh, type MeshStandardMaterial } from 'three';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { expect, test } from 'vitest';
import { libraryFinish } from '../finish';
import { addColourway, slotsOf, takeColourways, wearFinish } from '../fit/dress';
import { readModel } from '../model';
import {
  add,
  applyEdit,
  changePart,
  createModelItem,
  createModelPart,
  createPiece,
  createSolid,
  type Edit,
  onAnchor,
  type Piece,
  remove,
  settings,
} from '../piece';
import { packGlb } from './index';

const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS);
/** Two materials, each on a triangle of its own; one has a clear coat. @param variants a file that has colourways itself */
function glasses(variants = false): Document {
  const document = new Document();
  const buffer = document.createBuffer();
  const array = (type: 'VEC3' | 'VEC2', values: number[]) =>
    document.createAccessor().setType(type).setArray(new Float32Array(values)).setBuffer(buffer);
  const material = (name: string, red: number) => document.createMaterial(name).setBaseColorFactor([red, 0, 0, 1]).setMetallicFactor(0);
  const [rim, lens, plum] = [material('Rim', 0.2), material('Lens', 0.4), material('Plum rim', 0.8)];
  rim.setExtension('KHR_materials_clearcoat', document.createExtension(KHRMaterialsClearcoat).createClearcoat().setClearcoatFactor(0.3));
  const primitive = (at: number, m: typeof rim) =>
    document
      .createPrimitive()
      .setAttribute('POSITION', array('VEC3', [at, 0, 0, at + 0.1, 0, 0, at, 0.1, 0]))
      .setAttribute('NORMAL', array('VEC3', [0, 0, 1, 0, 0, 1, 0, 0, 1]))
      .setMaterial(m);
  const [a, b] = [primitive(0, rim), primitive(0.2, lens)];
  if (variants) {
    const extension = document.createExtension(KHRMaterialsVariants);
    const mapping = extension.createMapping().setMaterial(plum).addVariant(extension.createVariant('Plum'));
    a.setExtension('KHR_materials_variants', extension.createMappingList().addMapping(mapping));
  } else plum.dispose();
  document.createScene().addChild(document.createNode('Glass').setMesh(document.createMesh('Glass').addPrimitive(a).addPrimitive(b)));
  return document;
}

const apply = (piece: Piece, edits: readonly Edit[]) => edits.reduce(applyEdit, piece);
function hung(): Piece {
  return apply(createPiece('Tide glass'), [
    add('stock', createModelItem({ id: 's', name: 'glass.glb', original: 'a'.repeat(64), model: 'a'.repeat(64), bytes: 9 })),
    add('parts', createModelPart('p', 's', 'Glass')),
    changePart('p', { hang: onAnchor('head') }),
    ...['brass', 'lacquer', 'felt'].map((key) => add('finishes', libraryFinish(key, key))),
  ]);
}

interface Mapping {
  material: number;
  variants: number[];
}
/** What each mesh wears in each colourway by three's loader, which reads the file but knows no variants: as the extension has it. */
async function byThree(glb: Uint8Array): Promise<Record<string, Record<string, string>>> {
  const { scene, parser } = await new GLTFLoader().parseAsync(glb.slice().buffer, '');
  const names = ((parser.json.extensions?.KHR_materials_variants?.variants ?? []) as { name: string }[]).map((v) => v.name);
  const out: Record<string, Record<string, string>> = {};
  const meshes: Mesh[] = [];
  scene.traverse((o) => o instanceof Mesh && meshes.push(o));
  const hex = (m: Material) => (m as MeshStandardMaterial).color.getHexString();
  for (const [i, mesh] of meshes.entries()) {
    const plain = hex(mesh.material as Material);
    const said: Mapping[] = mesh.userData.gltfExtensions?.KHR_materials_variants?.mappings ?? [];
    const looks: Record<string, string> = { '': plain };
    for (const [n, name] of names.entries()) {
      const mapping = said.find((m) => m.variants.includes(n));
      looks[name] = mapping ? hex(await parser.getDependency('material', mapping.material)) : plain;
    }
    out[i] = looks;
  }
  return out;
}
async function delivered(piece: Piece, source: () => Document) {
  const glb = await packGlb(
    piece,
    async () => source(),
    async () => {
      throw new Error('no draco');
    },
  );
  const { issues } = await validateBytes(glb);
  expect(issues.messages.filter((m) => m.severity < 2)).toEqual([]);
  return glb;
}
const draw = [
  { material: 'Rim', triangles: 1 },
  { material: 'Lens', triangles: 1 },
];

test('each is a variant by its name, with the usual look beside them; the file opens in the one that is shown', async () => {
  let p = hung();
  p = apply(p, [wearFinish(p, p.parts.p, draw, draw[1], 'felt'), addColourway(p, 'c1')]);
  p = apply(p, [wearFinish(p, p.parts.p, draw, draw[0], 'brass')]);
  p = apply(p, [addColourway(p, 'c2')]);
  p = apply(p, [wearFinish(p, p.parts.p, draw, null, 'lacquer'), settings({ colourway: null })]);
  const [brass, lacquer, felt] = ['c99a4b', '7d1420', '3d4a63'];
  // the rim as its file has it: linear 0.2 is 124 of 255
  const usual = '7c0000';
  const glb = await delivered(p, glasses);
  expect(await byThree(glb)).toEqual({
    0: { '': usual, 'As usual': usual, Brass: brass, Lacquer: lacquer },
    1: { '': felt, 'As usual': felt, Brass: felt, Lacquer: lacquer },
  });
  const shown = await delivered(apply(p, [settings({ colourway: 'c2' })]), glasses);
  expect(await byThree(shown)).toMatchObject({ 0: { '': lacquer, 'As usual': usual }, 1: { '': lacquer, 'As usual': felt } });
  // a finish written for one colourway leaves the file's own material alone
  const materials = (await io().readBinary(glb)).getRoot().listMaterials();
  expect(materials.map((m) => m.getName()).sort()).toEqual(['Brass', 'Felt', 'Lacquer', 'Lacquer', 'Rim']);
  const coat = materials.find((m) => m.getName() === 'Rim')?.getExtension<Clearcoat>('KHR_materials_clearcoat');
  expect(coat?.getClearcoatFactor()).toBeCloseTo(0.3, 6);
});

test('a part that is the same in all of them says nothing; a solid takes part', async () => {
  let p = apply(hung(), [
    add('parts', createSolid('q', 'Ball', { form: 'sphere', sizeMm: [20, 20, 20], roundMm: 0, wallMm: 8, open: [] })),
    changePart('q', { hang: onAnchor('head') }),
  ]);
  p = apply(p, [addColourway(p, 'c1')]);
  p = apply(p, [wearFinish(p, p.parts.q, slotsOf(null), null, 'brass')]);
  const looks = Object.values(await byThree(await delivered(p, glasses)));
  expect(looks.map((l) => l['As usual'] === l.Brass)).toEqual([true, true, false]);
  expect(looks[2].Brass).toBe('c99a4b');
  // a solid that wears something leaves no plain look behind
  const shown = await delivered(
    apply(p, [
      addColourway(p, 'c2', p.colourways.c1),
      remove('colourways', 'c1'),
      remove('colourways', 'c2'),
      changePart('q', { wears: { '*': 'brass' } }),
    ]),
    glasses,
  );
  expect(
    (await io().readBinary(shown))
      .getRoot()
      .listMaterials()
      .map((m) => m.getName()),
  ).not.toContain('Solid');
});

test('a file’s own stay as long as the piece has none, and are the piece’s once they are taken in', async () => {
  const p = hung();
  const own = { 0: { '': '7c0000', Plum: 'e70000' }, 1: { '': 'aa0000', Plum: 'aa0000' } };
  expect(await byThree(await delivered(p, () => glasses(true)))).toEqual(own);
  const model = readModel(glasses(true));
  expect(model.variants).toEqual([{ name: 'Plum', instead: { Rim: 'Plum rim' } }]);
  let n = 0;
  const edit = takeColourways(p, p.parts.p, model, ['Plum'], () => `n${n++}`) as Edit;
  const taken = apply(p, [edit]);
  expect(await byThree(await delivered(taken, () => glasses(true)))).toEqual({
    0: { ...own[0], 'As usual': '7c0000' },
    1: { ...own[1], 'As usual': 'aa0000' },
  });
  // beside others of the piece, too; two parts of one file share them
  let other = apply(p, [
    addColourway(p, 'c1'),
    add('parts', createModelPart('q', 's', 'Glass again')),
    changePart('q', { hang: onAnchor('head') }),
  ]);
  other = apply(other, [wearFinish(other, other.parts.p, draw, draw[0], 'brass'), settings({ colourway: null })]);
  expect(await byThree(await delivered(other, () => glasses(true)))).toEqual({
    0: { '': '7c0000', 'As usual': '7c0000', Brass: 'c99a4b', Plum: 'e70000' },
    1: { '': 'aa0000', 'As usual': 'aa0000', Brass: 'aa0000', Plum: 'aa0000' },
    2: { '': '7c0000', 'As usual': '7c0000', Brass: '7c0000', Plum: 'e70000' },
    3: { '': 'aa0000', 'As usual': 'aa0000', Brass: 'aa0000', Plum: 'aa0000' },
  });
});

test('an occluder on a part that is drawn solid, or fades, stays unseen; what is beside it is solid', async () => {
  const hides = add('finishes', { ...libraryFinish('brass', 'h'), kind: 'occluder' });
  for (const set of [{ solid: true }, { opacity: 0.5 }]) {
    const p = apply(hung(), [hides, changePart('p', { wears: { Rim: 'h' }, ...set })]);
    const materials = (await io().readBinary(await delivered(p, glasses))).getRoot().listMaterials();
    const alphas = Object.fromEntries(materials.map((m) => [m.getName(), m.getAlpha()]));
    expect(alphas).toEqual({ Brass: 0, Lens: set.opacity ?? 1 });
    expect(materials.find((m) => m.getName() === 'Brass')?.getAlphaMode()).not.toBe('OPAQUE');
  }
});
