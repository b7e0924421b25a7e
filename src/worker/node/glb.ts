/** A Document as one GLB with everything inside, unpacked. */
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';

export const PACKING = new Set(['KHR_draco_mesh_compression', 'EXT_meshopt_compression', 'KHR_meshopt_compression']);

export async function writeGlb(document: Document): Promise<Uint8Array> {
  for (const e of document.getRoot().listExtensionsUsed()) if (PACKING.has(e.extensionName)) e.dispose();
  await document.transform(unpartition());
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}
