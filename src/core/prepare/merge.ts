/** The merge and prune steps: what draws alike is drawn once, what nothing uses goes. */
import { type Document, PropertyType } from '@gltf-transform/core';
import { dedup, flatten, join, prune, weld } from '@gltf-transform/functions';
import type { MergeSettings } from '../piece/recipe';

/** Joins materials that are the same but for their name, and meshes that wear the same and do not move. */
export async function runMerge(document: Document, { materials, meshes }: MergeSettings): Promise<void> {
  if (materials) await document.transform(dedup({ propertyTypes: [PropertyType.TEXTURE, PropertyType.MATERIAL] }));
  if (meshes) await document.transform(flatten(), join({ keepNamed: false, cleanup: false }));
}

/** Takes out what nothing uses, and puts vertices together that are bit by bit the same. */
export async function runPrune(document: Document): Promise<void> {
  await document.transform(
    dedup({ propertyTypes: [PropertyType.ACCESSOR, PropertyType.TEXTURE, PropertyType.MESH] }),
    prune({ keepAttributes: false, keepLeaves: true, keepSolidTextures: true, keepIndices: false, keepExtras: true }),
    weld(),
  );
}
