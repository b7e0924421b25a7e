/** Colourways of a file: KHR_materials_variants. */
import type { Document } from '@gltf-transform/core';
import type { MappingList } from '@gltf-transform/extensions';

export interface ModelVariant {
  name: string;
  /** Name of a material → of the one that stands in for it; '' where there is none. */
  instead: Record<string, string>;
}

/** Variants in the order of the file, by names of materials; where primitives of one material differ, the first decides. */
export function readVariants(document: Document): ModelVariant[] {
  const known = new Map<string, ModelVariant>();
  const primitives = document
    .getRoot()
    .listMeshes()
    .flatMap((m) => m.listPrimitives());
  for (const p of primitives) {
    const list = p.getExtension<MappingList>('KHR_materials_variants');
    for (const mapping of list?.listMappings() ?? [])
      for (const v of mapping.listVariants()) {
        const said = known.get(v.getName()) ?? { name: v.getName(), instead: Object.create(null) };
        known.set(v.getName(), said);
        said.instead[p.getMaterial()?.getName() ?? ''] ??= mapping.getMaterial()?.getName() ?? '';
      }
  }
  return [...known.values()].map((v) => ({ ...v, instead: { ...v.instead } }));
}
