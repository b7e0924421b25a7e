/** What every step leaves behind goes. */
import { type Document, PropertyType } from '@gltf-transform/core';
import { dedup, prune } from '@gltf-transform/functions';

/** Drops what nothing uses any more after steps. */
export async function tidyDocument(document: Document): Promise<void> {
  await document.transform(
    dedup({ propertyTypes: [PropertyType.ACCESSOR] }),
    prune({
      propertyTypes: [
        PropertyType.ACCESSOR,
        PropertyType.BUFFER,
        PropertyType.MESH,
        PropertyType.SKIN,
        PropertyType.MATERIAL,
        PropertyType.TEXTURE,
        PropertyType.ANIMATION_SAMPLER,
      ],
      keepAttributes: true,
      keepIndices: true,
      keepLeaves: true,
      keepSolidTextures: true,
    }),
  );
}
