import { Sha256 } from '@/core/piece';
import { blobStream, notFound, requireAsset, requirePiece, signedRoute } from '@/server';

/** A stock file's bytes: the original, the GLB it is drawn from, or a picture. */
export const GET = signedRoute<{ piece: string; sha: string }>(async ({ db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  if (!Sha256.safeParse(params.sha).success) throw notFound('file');
  const { type } = await requireAsset(db, yard_id, params.sha);
  const { stream, bytes } = await blobStream(params.sha);
  return new Response(stream, {
    headers: {
      'content-type': type,
      'content-length': String(bytes),
      'cache-control': 'private, max-age=31536000, immutable',
      'x-content-type-options': 'nosniff',
    },
  });
});
