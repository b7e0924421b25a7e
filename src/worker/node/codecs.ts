/** What core takes as arguments, as Node supplies it. */
import { createHash } from 'node:crypto';
import { inspect } from 'node:util';
import type { Document } from '@gltf-transform/core';
import { createGltfIo, type GltfDecoders, type ValidatorIssue } from '@/core/intake';
import type { DracoModules } from '@/core/prepare';

// packages are loaded where they are needed: a job takes half a second to start if it loads them all
const draco3d = async () => (await import('draco3dgltf')).default;

/** What the packings that a glTF names are unpacked with. */
export async function nodeDecoders(gltf: Uint8Array): Promise<GltfDecoders> {
  const text = Buffer.from(gltf.buffer, gltf.byteOffset, gltf.byteLength);
  const decoders: GltfDecoders = {};
  if (text.includes('KHR_draco_mesh_compression')) decoders.draco = await (await draco3d()).createDecoderModule();
  if (text.includes('meshopt_compression')) {
    const { MeshoptDecoder } = await import('meshoptimizer');
    await MeshoptDecoder.ready;
    decoders.meshopt = MeshoptDecoder;
  }
  return decoders;
}

/** A GLB as a document, unpacked. No copy is made of it. */
export const readGlb = async (glb: Uint8Array): Promise<Document> =>
  createGltfIo(await nodeDecoders(glb)).readBinary(new Uint8Array(glb.buffer as ArrayBuffer, glb.byteOffset, glb.byteLength));

/** Draco both ways. */
export const nodeDraco = async (): Promise<DracoModules> => {
  const draco = await draco3d();
  return { encoder: await draco.createEncoderModule(), decoder: await draco.createDecoderModule() };
};

export const sha256Hex = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

const FAILED: ValidatorIssue = {
  code: 'VALIDATOR_FAILED',
  message: 'The validator itself fails on it, as where a file contradicts itself.',
  severity: 0,
};

/** The Khronos validator's messages, without an issue limit. Run it only in a disposable process: deep files end its process. */
export async function validate(
  bytes: Uint8Array,
  format: 'glb' | 'gltf',
  resources: ReadonlyMap<string, Uint8Array>,
): Promise<ValidatorIssue[]> {
  const { validateBytes } = await import('gltf-validator');
  const report = await aside(() =>
    validateBytes(bytes, {
      format,
      maxIssues: 0,
      writeTimestamp: false,
      externalResourceFunction: async (uri: string) => {
        const data = resources.get(uri) ?? resources.get(decodeURIComponent(uri));
        if (!data) throw new Error('not at hand');
        return data;
      },
    }),
  );
  return report?.issues.messages ?? [FAILED];
}

const ANSWERS_MS = 500;

/**
 * Work of the validator, which throws past its own promise where a broken file makes it answer twice: nobody could catch that, and the
 * process would end. @returns what it answered first; null: nothing
 */
async function aside<T>(work: () => Promise<T>): Promise<T | null> {
  let failed: (nothing: null) => void = () => undefined;
  const thrown = new Promise<null>((resolve) => {
    failed = resolve;
  });
  const caught = (e: unknown) => {
    if (inspect(e).includes('gltf_validator')) {
      // its answer may still be on the way
      setTimeout(() => failed(null), ANSWERS_MS);
      return;
    }
    // none of its own, and nobody else takes it: as if this were not here
    if (process.listenerCount('uncaughtException') === 1) throw e;
  };
  process.on('uncaughtException', caught);
  try {
    return await Promise.race([work(), thrown]);
  } finally {
    // what comes after its answer comes in the same turn
    setTimeout(() => process.off('uncaughtException', caught), 50);
  }
}
