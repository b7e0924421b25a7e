/** The packaging jobs. Run in a disposable process. */
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { blobsOf, packBundle, packGlb, readBundle } from '@/core/deliver';
import { createGltfIo } from '@/core/intake';
import { drawnModel, type Piece } from '@/core/piece';
import { nodeDecoders, nodeDraco, sha256Hex } from './codecs';

export interface PackJob {
  kind: 'glb' | 'bundle';
  piece: Piece;
  /** Blob → its file. */
  blobPaths: Record<string, string>;
}

export async function runPack(job: PackJob): Promise<Uint8Array> {
  if (job.kind === 'bundle') {
    const blobs = new Map<string, Uint8Array>();
    for (const sha of blobsOf(job.piece)) blobs.set(sha, await readFile(job.blobPaths[sha]));
    return packBundle(job.piece, blobs, async (b) => sha256Hex(b));
  }
  const io = createGltfIo(await nodeDecoders());
  return packGlb(
    job.piece,
    async (stockId) => io.readBinary(new Uint8Array(await readFile(job.blobPaths[drawnModel(job.piece, stockId) ?? '']))),
    nodeDraco,
  );
}

export interface UnpackJob {
  path: string;
  outDir: string;
}

/** Checks a bundle and writes its blobs to `outDir`, each under its SHA-256. */
export async function runUnpack(job: UnpackJob): Promise<{ piece: Piece; blobs: string[] }> {
  const { piece, blobs } = await readBundle(await readFile(job.path), async (b) => sha256Hex(b));
  for (const [sha, data] of blobs) await writeFile(join(job.outDir, sha), data);
  return { piece, blobs: [...blobs.keys()] };
}
