import { Document } from '@gltf-transform/core';
import { KHRMaterialsAnisotropy, KHRMaterialsSheen, KHRMaterialsUnlit } from '@gltf-transform/extensions';
import { expect, test } from 'vitest';
import { runPrune } from './merge';
import { addSurface, sphere } from './samples';
import { undrawn } from './undrawn';

const ball = (extend: (d: Document, m: ReturnType<Document['createMaterial']>) => void) => {
  const document = new Document();
  const material = document.createMaterial('m');
  extend(document, material);
  addSurface(document, 'ball', sphere(0.1), 8, 4, material);
  return document;
};
const anisotropic = () =>
  ball((d, m) => m.setExtension('KHR_materials_anisotropy', d.createExtension(KHRMaterialsAnisotropy).createAnisotropy()));

test('what no view draws is told, by its words; unlit is drawn', () => {
  expect(undrawn(anisotropic())).toEqual(['anisotropy']);
  const both = ball((d, m) => {
    m.setExtension('KHR_materials_sheen', d.createExtension(KHRMaterialsSheen).createSheen());
    m.setExtension('KHR_materials_unlit', d.createExtension(KHRMaterialsUnlit).createUnlit());
  });
  expect(undrawn(both)).toEqual(['sheen']);
  expect(undrawn(new Document())).toEqual([]);
});
test('the UVs that anisotropy turns by stay when what is unused goes; others go', async () => {
  const names = async (d: Document) => {
    await runPrune(d);
    return d.getRoot().listMeshes()[0].listPrimitives()[0].listSemantics().sort();
  };
  expect(await names(anisotropic())).toEqual(['NORMAL', 'POSITION', 'TEXCOORD_0']);
  expect(await names(ball(() => undefined))).toEqual(['NORMAL', 'POSITION']);
});
