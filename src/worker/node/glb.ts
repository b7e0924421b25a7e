/** A Document as one GLB with everything inside, unpacked. */
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import { PACKING_EXTENSIONS } from '@/core/prepare';

export async function writeGlb(document: Document): Promise<Uint8Array> {
  for (const e of document.getRoot().listExtensionsUsed()) if (PACKING_EXTENSIONS.has(e.extensionName)) e.dispose();
  await document.transform(unpartition());
  return new WebIO().registerExtensions(ALL_EXTENSIONS).writeBinary(document);
}
