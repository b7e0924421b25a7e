/** Finishes in a GLB: what glTF can say read back as the same look, the rest in extras; by the validator too. */
import { Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { validateBytes } from 'gltf-validator';
import { expect, test } from 'vitest';
import { type FinishRow, finishOfMaterial, LIBRARY, libraryFinish } from '../finish';
import { readMaterial } from '../model';
import { beyondGltf, writeFinish } from './finishes';

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
  const cut = await written({ ...base, blend: 'cut', cutAt: 0.25, opacity: 0.75 });
  expect([cut.getAlphaMode(), cut.getAlphaCutoff(), cut.getAlpha()]).toEqual(['MASK', 0.25, 0.75]);
});

test('maps of roles that a finish leaves out go, the others stay; an extension it does not need goes', async () => {
  const document = new Document();
  const [base, normal] = ['base', 'normal'].map((n) => document.createTexture(n));
  const material = document.createMaterial('m').setBaseColorTexture(base).setNormalTexture(normal);
  writeFinish(document, material, {
    ...libraryFinish('lacquer', 'a'),
    maps: { base: 'own', metalRough: null, normal: null, occlusion: null, glow: null },
  });
  expect([material.getBaseColorTexture(), material.getNormalTexture()]).toEqual([base, null]);
  expect(material.getExtension('KHR_materials_clearcoat')).not.toBeNull();
  writeFinish(document, material, libraryFinish('brass', 'a'));
  expect(material.getExtension('KHR_materials_clearcoat')).toBeNull();
});
