/** Covers: renderings made in the browser, decoded and encoded anew before they are kept. */
import { createHash } from 'node:crypto';
import { open, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { adoptBlob, blobPath, withTempDir } from './blobs';
import { readBody } from './body';
import type { Knex } from './db';
import { HttpError } from './errors';
import { requireDisk } from './reserve';

const COVER_BYTES = 4_000_000;
/** Twice what a card shows, for dense screens. */
const SHOWN = { width: 606, height: 400 };

export async function keepCover(db: Knex, pieceId: string, revision: number, request: Request): Promise<void> {
  const tooLarge = new HttpError(413, 'cover/too-large', `A cover has at most ${COVER_BYTES / 1e6} MB.`);
  const body = await readBody(request, COVER_BYTES, tooLarge);
  const cover = await sharp(body, { limitInputPixels: 4_000_000 })
    .resize({ ...SHOWN, fit: 'inside', withoutEnlargement: true })
    .webp({ quality: 82 })
    .toBuffer()
    .catch(() => {
      throw new HttpError(422, 'cover/unreadable', 'The cover is not a picture that can be read.');
    });
  const sha = createHash('sha256').update(cover).digest('hex');
  await requireDisk(cover.length);
  await withTempDir(async (dir) => {
    await writeFile(join(dir, sha), cover);
    await adoptBlob(db, dir, sha);
  });
  // an older cover never takes the place of a newer one
  await db('pieces')
    .where({ id: pieceId })
    .andWhere((q) => q.whereNull('cover_revision').orWhere('cover_revision', '<=', revision))
    .update({ cover_sha256: sha, cover_revision: revision });
}

/** What a kept cover is: those of an older Scaphos are PNGs. */
export async function coverType(sha: string): Promise<string> {
  const file = await open(blobPath(sha));
  try {
    const { buffer } = await file.read(Buffer.alloc(4), 0, 4, 0);
    return buffer.toString('latin1') === 'RIFF' ? 'image/webp' : 'image/png';
  } finally {
    await file.close();
  }
}
