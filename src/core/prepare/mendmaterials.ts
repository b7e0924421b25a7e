/** Mends of materials. */
import type { Document } from '@gltf-transform/core';
import { KHRMaterialsUnlit } from '@gltf-transform/extensions';
import type { Picture } from '../intake/check/context';
import { needlessBlends, needlessSides, repeatedMaterials, shinesOnly, unlitButShaded } from '../intake/check/materials';
import { readModel } from '../model/model';
import type { MendOp } from '../piece/recipe';

export function mendMaterials(document: Document, ops: ReadonlySet<MendOp>, pictures: readonly Picture[]): void {
  const root = document.getRoot();
  if (ops.has('opaque')) for (const m of needlessBlends({ document, pictures })) m.setAlphaMode('OPAQUE');
  if (ops.has('single-sided')) for (const m of needlessSides({ document, model: readModel(document) })) m.setDoubleSided(false);
  for (const m of root.listMaterials()) {
    if (ops.has('lit') && unlitButShaded(m)) m.setExtension('KHR_materials_unlit', null);
    if (ops.has('unlit') && shinesOnly(m)) {
      const picture = m.getEmissiveTexture();
      const info = m.getEmissiveTextureInfo();
      m.setBaseColorTexture(picture).setBaseColorFactor([1, 1, 1, m.getAlpha()]).setEmissiveTexture(null).setEmissiveFactor([0, 0, 0]);
      if (info) m.getBaseColorTextureInfo()?.setTexCoord(info.getTexCoord());
      m.setExtension('KHR_materials_unlit', document.createExtension(KHRMaterialsUnlit).createUnlit());
    }
  }
  if (ops.has('merge-materials'))
    for (const [later, earlier] of repeatedMaterials(root.listMaterials())) {
      for (const parent of later.listParents()) if (parent.propertyType !== 'Root') parent.swap(later, earlier);
      later.dispose();
    }
}
