/** What views do not draw of a model: what is told of it there does not speak of these. */
import type { Document } from '@gltf-transform/core';

/** Extensions of materials (Khronos) that no view draws, in words. Unlit is drawn; transmission is drawn as solid. */
const WORDS: Readonly<Record<string, string>> = {
  KHR_materials_anisotropy: 'anisotropy',
  KHR_materials_clearcoat: 'clearcoat',
  KHR_materials_diffuse_transmission: 'diffuse transmission',
  KHR_materials_dispersion: 'dispersion',
  KHR_materials_emissive_strength: 'emissive strength',
  KHR_materials_iridescence: 'iridescence',
  KHR_materials_pbrSpecularGlossiness: 'specular and glossiness',
  KHR_materials_sheen: 'sheen',
  KHR_materials_specular: 'specular',
  KHR_materials_transmission: 'transmission',
  KHR_materials_volume: 'volume',
};

/** Sorted words of what a material of the model asks for and no view draws. */
export function undrawn(document: Document): string[] {
  const out = new Set<string>();
  for (const m of document.getRoot().listMaterials())
    for (const e of m.listExtensions()) if (WORDS[e.extensionName]) out.add(WORDS[e.extensionName]);
  return [...out].sort();
}
