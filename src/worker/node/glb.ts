/** A Document as one GLB with everything inside, unpacked. */
import { type Document, WebIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { unpartition } from '@gltf-transform/functions';
import { writeBinary } from '@/core/model/write';
import { PACKING_EXTENSIONS } from '@/core/prepare';

export async function writeGlb(document: Document): Promise<Uint8Array> {
  for (const e of document.getRoot().listExtensionsUsed()) if (PACKING_EXTENSIONS.has(e.extensionName)) e.dispose();
  await document.transform(unpartition());
  return writeBinary(new WebIO().registerExtensions(ALL_EXTENSIONS), document);
}
