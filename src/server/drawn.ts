/**
 * Models as a page can draw them: pictures packed for graphics chips (KTX2) are unpacked here. Their transcoder builds code from
 * text, which a page's security policy forbids.
 */
import { open } from 'node:fs/promises';
import { unpackPictures } from '@/worker/node';
import { blobPath } from './blobs';
import { cached, cacheFile } from './cache';
import { inTurn } from './readers';

/** Header of a GLB and of its first chunk (glTF 2.0, section 4.4), bytes. */
const HEAD = 20;
const MOST_JSON = 64e6;

/** Whether a GLB wears KTX2, from its JSON alone. */
async function wearsKtx2(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const head = Buffer.alloc(HEAD);
    const { bytesRead } = await file.read(head, 0, HEAD, 0);
    const length = bytesRead === HEAD && head.toString('latin1', 0, 4) === 'glTF' ? head.readUInt32LE(12) : 0;
    if (length === 0 || length > MOST_JSON) return false;
    const json = Buffer.alloc(length);
    await file.read(json, 0, length, HEAD);
    return json.includes('image/ktx2');
  } finally {
    await file.close();
  }
}

/** Path of the file to draw: the blob itself, or a copy of it with common pictures. @throws {HttpError} 422 it cannot be unpacked */
export async function drawnFile(yardId: string, sha: string): Promise<string> {
  const path = blobPath(sha);
  if (!(await wearsKtx2(path))) return path;
  return cached(cacheFile('drawn', `${sha}.glb`), () => inTurn(yardId, () => unpackPictures({ path })));
}
