/** The packaging jobs. Run in a disposable process. */
import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { blobsOf, packBundle, packGlb, readBundle } from '@/core/deliver';
import { buildFormBase, makeForm } from '@/core/form';
import { bodyMeasures, knowsRest, restOf, shapeBody, tellRest } from '@/core/form/body';
import { drawnModel, hasBody, hasFace, type Piece, shownAsk, shownBody, shownWearer } from '@/core/piece';
import type { Assets } from '@/core/run';
import { bakedBody } from './bodybase';
import { nodeDraco, readGlb, sha256Hex } from './codecs';
import { writeGlb } from './glb';
import { nodePictures } from './pictures';

export interface PackJob {
  kind: 'glb' | 'bundle';
  piece: Piece;
  /** Blob → its file. */
  blobPaths: Record<string, string>;
}

/** The form shown, where something of a piece hangs on its face; where its body's joints are is known from then on, if something hangs there. */
export async function shownForm(piece: Piece): Promise<Assets['forms']> {
  const body = shownBody(piece);
  if (hasBody(piece) && !knowsRest(body)) tellRest(body, restOf(shapeBody(await bakedBody(), bodyMeasures(body))));
  return hasFace(piece) ? { [shownWearer(piece).key]: makeForm(buildFormBase(), shownAsk(piece)) } : {};
}

export async function runPack(job: PackJob): Promise<Uint8Array> {
  if (job.kind === 'bundle') {
    const blobs = new Map<string, Uint8Array>();
    for (const sha of blobsOf(job.piece)) blobs.set(sha, await readFile(job.blobPaths[sha]));
    return packBundle(job.piece, blobs, async (b) => sha256Hex(b));
  }
  const open = async (stockId: string) => readGlb(await readFile(job.blobPaths[drawnModel(job.piece, stockId) ?? '']));
  return packGlb(job.piece, open, nodeDraco, await shownForm(job.piece));
}

export interface UnpackPicturesJob {
  /** File of a GLB. */
  path: string;
}

/** The same model with PNG where it wears KTX2. */
export async function runUnpackPictures({ path }: UnpackPicturesJob): Promise<Uint8Array> {
  const document = await readGlb(await readFile(path));
  const ask = { maxEdge: 16384, format: 'png', quality: 100, numbers: false, directions: false, alpha: true } as const;
  for (const t of document.getRoot().listTextures()) {
    const bytes = t.getImage();
    if (t.getMimeType() !== 'image/ktx2' || !bytes) continue;
    const made = await nodePictures.encode(bytes, ask);
    t.setImage(made.bytes as Uint8Array<ArrayBuffer>).setMimeType(made.mime);
  }
  for (const e of document.getRoot().listExtensionsUsed()) if (e.extensionName === 'KHR_texture_basisu') e.dispose();
  return writeGlb(document);
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
