import { Sha256 } from '@/core/piece';
import { blobSize, blobStream, notFound, readRange, requireAsset, requirePiece, signedRoute, tagged, unchanged } from '@/server';

/** A stock file's bytes, or a stretch of them: the original, what it is used as, or a picture. */
export const GET = signedRoute<{ piece: string; sha: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  if (!Sha256.safeParse(params.sha).success) throw notFound('file');
  const { type } = await requireAsset(db, yard_id, params.sha);
  const same = unchanged(request, params.sha);
  if (same) return same;
  const bytes = await blobSize(params.sha);
  const stretch = readRange(request.headers.get('range'), bytes);
  if (stretch === 'outside') return new Response(null, { status: 416, headers: { 'content-range': `bytes */${bytes}` } });
  return new Response(blobStream(params.sha, stretch ?? undefined), {
    status: stretch ? 206 : 200,
    headers: {
      'content-type': type,
      'content-length': String(stretch ? stretch.end - stretch.start + 1 : bytes),
      'accept-ranges': 'bytes',
      ...(stretch ? { 'content-range': `bytes ${stretch.start}-${stretch.end}/${bytes}` } : {}),
      ...tagged(params.sha),
      'x-content-type-options': 'nosniff',
    },
  });
});
