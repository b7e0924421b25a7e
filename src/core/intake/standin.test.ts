/** Packed files whose unpacked half is left out (EXT_meshopt_compression: a buffer marked `fallback` without bytes). */
import { MeshoptDecoder } from 'meshoptimizer';
import { expect, test } from 'vitest';
import { withJson } from '../model/write';
import { packDocument } from '../prepare/pack';
import { blob, surfaceDocument } from '../prepare/samples';
import { type GltfJson, openGltf } from './container';
import type { IntakeError } from './errors';
import { readGltf } from './read';

/** The GLB with its JSON changed. */
function changed(glb: Uint8Array, change: (json: GltfJson) => void): Uint8Array {
  const { json } = openGltf(glb);
  change(json);
  return withJson(glb, new TextEncoder().encode(JSON.stringify(json)));
}
const packed = () => packDocument(surfaceDocument('blob', blob(0.05), 16, 8), { method: 'meshopt', quantise: null, reorder: true }, null);
const standIn = (json: GltfJson) => {
  const at = (json.buffers ?? []).findIndex((b) => JSON.stringify(b.extensions ?? {}).includes('"fallback":true'));
  return at;
};
const read = async (glb: Uint8Array) => {
  await MeshoptDecoder.ready;
  return readGltf(glb, { meshopt: MeshoptDecoder });
};

test('is read, whether its buffer names a file or none', async () => {
  const glb = changed(await packed(), (json) => {
    const at = standIn(json);
    expect(at).toBeGreaterThan(0);
    delete (json.buffers ?? [])[at].uri;
  });
  const { document } = await read(glb);
  expect(document.getRoot().listMeshes()[0].listPrimitives()[0].getAttribute('POSITION')?.getCount()).toBeGreaterThan(100);
});
test('a view in it that is packed nowhere is still told', async () => {
  const glb = changed(await packed(), (json) => {
    const at = standIn(json);
    delete (json.buffers ?? [])[at].uri;
    const view = (json.bufferViews ?? []).find((v) => v.buffer === at);
    delete view?.extensions;
  });
  expect(((await read(glb).catch((e: unknown) => e)) as IntakeError).code).toBe('gltf/buffer');
});
