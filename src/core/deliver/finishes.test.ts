/** Finishes in a GLB: what glTF can say read back as the same look, the rest in extras; by the validator too. */
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS, type Transform } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { expect, test } from 'vitest';
import { beyondGltf, FinishExtras, type FinishRow, finishOfMaterial, LIBRARY, libraryFinish } from '../finish';
import { readMaterial } from '../model';
import { writeFinish } from './finishes';
import { unsaid } from './unsaid';

// one grey pixel
const PNG_OF_ONE = Uint8Array.from(
  Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNoAAAAggCBd81ytgAAAABJRU5ErkJggg==', 'base64'),
);
const io = () => new WebIO().registerExtensions(ALL_EXTENSIONS);

async function written(finish: FinishRow) {
  const document = new Document();
  const buffer = document.createBuffer();
  const position = document
    .createAccessor()
    .setType('VEC3')
    .setArray(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]))
    .setBuffer(buffer);
  const material = writeFinish(document, document.createMaterial('Before').setExtras({ kept: 1 }), finish);
  const mesh = document.createMesh().addPrimitive(document.createPrimitive().setAttribute('POSITION', position).setMaterial(material));
  document.createScene().addChild(document.createNode().setMesh(mesh));
  const { scaphos } = material.getExtras() as { scaphos?: unknown };
  if (scaphos !== undefined) FinishExtras.parse(scaphos);
  const glb = await io().writeBinary(document);
  const { issues } = await validateBytes(glb);
  // errors and warnings
  expect(issues.messages.filter((m) => m.severity < 2)).toEqual([]);
  return (await io().readBinary(glb)).getRoot().listMaterials()[0];
}
/** What a finish says that shows: the rest is not asked for in a file. */
function shows({ maps: _, id: _id, name: _name, ...f }: FinishRow) {
  const { unlit, colour, opacity, metal, roughness, blend, faces, clearcoat, transmission, iridescence, anisotropy, glow, sheen } = f;
  return {
    ...{ unlit, colour, metal, roughness, blend, faces, clearcoat, transmission, iridescence, anisotropy, glow, sheen, opacity },
    ...(clearcoat > 0 && { clearcoatRoughness: f.clearcoatRoughness }),
    ...(transmission > 0 && { thicknessMm: f.thicknessMm, tint: f.tint, tintMm: f.tintMm }),
    ...(iridescence > 0 && { iridescenceIor: f.iridescenceIor, filmNm: f.filmNm }),
    ...(sheen !== '#000000' && { sheenRoughness: f.sheenRoughness }),
    ...(glow !== '#000000' && { glowStrength: f.glowStrength }),
    ior: f.ior,
    specular: f.specular,
  };
}
const near = (looks: Record<string, unknown>) =>
  Object.fromEntries(Object.entries(looks).map(([k, v]) => [k, typeof v === 'number' ? expect.closeTo(v, 4) : v]));

test.each(LIBRARY)('%s is read back as the look it has', async (key) => {
  const finish = libraryFinish(key, 'a');
  const material = await written({ ...finish, blend: 'opaque', faces: finish.faces });
  expect(shows(finishOfMaterial(readMaterial(material), 'a', finish.name))).toEqual(near(shows({ ...finish, blend: 'opaque' })));
  expect(material.getName()).toBe(finish.name);
  expect(material.getExtras()).toEqual({ kept: 1 });
});

test('what glTF has no word for stands in its extras, with the nearest plain meaning beside it', async () => {
  const base = libraryFinish('brass', 'a');
  const add = await written({ ...base, blend: 'add', opacity: 0.5 });
  expect([add.getAlphaMode(), add.getExtras()]).toEqual(['BLEND', { kept: 1, scaphos: { blend: 'add' } }]);
  const back = await written({ ...base, faces: 'back', depthTest: false });
  expect([back.getDoubleSided(), back.getExtras()]).toEqual([true, { kept: 1, scaphos: { faces: 'back', depthTest: false } }]);
  // a depth that goes without saying is not said
  expect(beyondGltf({ ...base, depthWrite: true })).toBeNull();
  expect(beyondGltf({ ...base, depthWrite: false })).toEqual({ depthWrite: false });
  expect(beyondGltf({ ...base, blend: 'over', depthWrite: false })).toBeNull();
  // what is no surface is not to be seen where it is not known
  const hides = await written({ ...base, kind: 'occluder' });
  expect([hides.getAlphaMode(), hides.getAlpha(), hides.getExtras()]).toEqual([
    'MASK',
    0,
    { kept: 1, scaphos: { kind: 'occluder', opacity: 1, blend: 'opaque' } },
  ]);
  const matte = { name: 'sky' as const, invert: true, growPx: 0, featherPx: 2 };
  const map = { stock: 's', uv: 'screen' as const, offset: [0, 0] as [number, number], repeat: [1, 1] as [number, number], turnDeg: 0 };
  expect(beyondGltf({ ...base, matte, maps: { ...base.maps, glow: map } })).toEqual({ matte, byScreen: ['glow'] });
  expect(unsaid({ ...base, matte, maps: { ...base.maps, glow: map, opacity: map } })).toEqual([
    'keeps within no live mask',
    'its picture by screen is laid by UVs',
    'its opacity picture is left out',
  ]);
  expect([unsaid(base), unsaid({ ...base, kind: 'patch' }), unsaid({ ...base, blend: 'screen' })]).toEqual([
    [],
    ['shows the camera’s picture'],
    ['is laid over plainly instead of by screen'],
  ]);
  const cut = await written({ ...base, blend: 'cut', cutAt: 0.25, opacity: 0.75 });
  expect([cut.getAlphaMode(), cut.getAlphaCutoff(), cut.getAlpha()]).toEqual(['MASK', 0.25, 0.75]);
});

test('what went into extras is read back: kind, blend, mask, faces and depth as they were; what is no such thing is let be', async () => {
  const base = { ...libraryFinish('brass', 'a'), faces: 'both' as const };
  const matte = { name: 'hair' as const, invert: false, growPx: 2, featherPx: 1 };
  for (const finish of [
    { ...base, blend: 'screen' as const, opacity: 0.5 },
    { ...base, kind: 'occluder' as const, opacity: 0.25, blend: 'over' as const },
    { ...base, kind: 'patch' as const, matte, depthTest: false },
    { ...base, faces: 'back' as const, blend: 'over' as const, opacity: 0.5, depthWrite: true },
  ]) {
    const read = finishOfMaterial(readMaterial(await written(finish)), 'a', finish.name);
    const { kind, blend, opacity, faces, depthTest, depthWrite, matte: mask, metal } = read;
    expect({ kind, blend, opacity, faces, depthTest, depthWrite, matte: mask, metal }).toEqual({
      kind: finish.kind,
      blend: finish.blend,
      opacity: expect.closeTo(finish.opacity, 6),
      faces: finish.faces,
      depthTest: finish.depthTest,
      depthWrite: finish.depthWrite,
      matte: finish.matte,
      metal: finish.metal,
    });
  }
  const odd = new Document().createMaterial('m').setExtras({ scaphos: { kind: 'ghost', blend: 7 } });
  expect(finishOfMaterial(readMaterial(odd), 'a', 'x')).toMatchObject({ kind: 'surface', blend: 'opaque' });
});

test('maps of roles that a finish leaves out go, the others stay; an extension it does not need goes', async () => {
  const document = new Document();
  const [base, normal] = ['base', 'normal'].map((n) => document.createTexture(n));
  const material = document.createMaterial('m').setBaseColorTexture(base).setNormalTexture(normal);
  writeFinish(document, material, {
    ...libraryFinish('lacquer', 'a'),
    maps: { base: 'own', metalRough: null, normal: null, occlusion: null, glow: null, opacity: null },
  });
  expect([material.getBaseColorTexture(), material.getNormalTexture()]).toEqual([base, null]);
  expect(material.getExtension('KHR_materials_clearcoat')).not.toBeNull();
  writeFinish(document, material, libraryFinish('brass', 'a'));
  expect(material.getExtension('KHR_materials_clearcoat')).toBeNull();
});

test('a picture of Stock in a role is a texture there, moved, repeated and turned as KHR_texture_transform has it', async () => {
  const document = new Document();
  const picture = document.createTexture('sail.png').setMimeType('image/png').setImage(PNG_OF_ONE);
  const set = { stock: 's', uv: 0 as const, offset: [0.25, 0.5] as [number, number], repeat: [3, 2] as [number, number], turnDeg: 90 };
  const brass = libraryFinish('brass', 'a');
  const asked: string[] = [];
  const pictureOf = (id: string) => {
    asked.push(id);
    return picture;
  };
  const material = document.createMaterial();
  writeFinish(
    document,
    material,
    { ...brass, maps: { ...brass.maps, base: set, glow: { ...set, offset: [0, 0], repeat: [1, 1], turnDeg: 0 } } },
    pictureOf,
  );
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC2' | 'VEC3', array: number[]) =>
    document.createAccessor().setType(type).setArray(new Float32Array(array)).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', [0, 0, 0, 1, 0, 0, 0, 1, 0]))
    .setAttribute('NORMAL', accessor('VEC3', [0, 0, 1, 0, 0, 1, 0, 0, 1]))
    .setAttribute('TEXCOORD_0', accessor('VEC2', [0, 0, 1, 0, 0, 1]))
    .setMaterial(material);
  document.createScene().addChild(document.createNode().setMesh(document.createMesh().addPrimitive(primitive)));
  const glb = await io().writeBinary(document);
  expect((await validateBytes(glb)).issues.messages.filter((m) => m.severity < 2)).toEqual([]);
  const [read] = (await io().readBinary(glb)).getRoot().listMaterials();
  expect(asked).toEqual(['s', 's']);
  expect(read.getBaseColorTexture()).toBe(read.getEmissiveTexture());
  const moved = read.getBaseColorTextureInfo()?.getExtension<Transform>('KHR_texture_transform');
  expect([moved?.getOffset(), moved?.getScale(), moved?.getRotation()]).toEqual([[0.25, 0.5], [3, 2], expect.closeTo(Math.PI / 2, 6)]);
  expect(read.getEmissiveTextureInfo()?.getExtension('KHR_texture_transform')).toBeNull();
  expect(read.getMetallicRoughnessTexture()).toBeNull();
});
