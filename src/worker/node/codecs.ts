/** What core takes as arguments, as Node supplies it. */
import { createHash } from 'node:crypto';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import type { GltfDecoders, ValidatorIssue } from '@/core/intake';
import type { DracoModules } from '@/core/prepare';

export async function nodeDecoders(): Promise<GltfDecoders> {
  await MeshoptDecoder.ready;
  return { draco: await draco3d.createDecoderModule(), meshopt: MeshoptDecoder };
}

/** Draco both ways. */
export const nodeDraco = async (): Promise<DracoModules> => ({
  encoder: await draco3d.createEncoderModule(),
  decoder: await draco3d.createDecoderModule(),
});

export const sha256Hex = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** The Khronos validator's messages, without an issue limit. Run it only in a disposable process: deep files end its process. */
export async function validate(
  bytes: Uint8Array,
  format: 'glb' | 'gltf',
  resources: ReadonlyMap<string, Uint8Array>,
): Promise<ValidatorIssue[]> {
  const { validateBytes } = await import('gltf-validator');
  const report = await validateBytes(bytes, {
    format,
    maxIssues: 0,
    writeTimestamp: false,
    externalResourceFunction: async (uri: string) => {
      const data = resources.get(uri) ?? resources.get(decodeURIComponent(uri));
      if (!data) throw new Error('not at hand');
      return data;
    },
  });
  return report.issues.messages;
}
