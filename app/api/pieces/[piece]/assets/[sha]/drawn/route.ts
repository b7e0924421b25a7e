import { Sha256 } from '@/core/piece';
import { drawnFile, fileStream, notFound, requireAsset, requirePiece, signedRoute, tagged, unchanged } from '@/server';

/** A model as a page can draw it. */
export const GET = signedRoute<{ piece: string; sha: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  if (!Sha256.safeParse(params.sha).success) throw notFound('file');
  await requireAsset(db, yard_id, params.sha);
  const tag = `${params.sha} drawn`;
  const same = unchanged(request, tag);
  if (same) return same;
  const { stream, bytes } = await fileStream(await drawnFile(yard_id, params.sha));
  return new Response(stream, {
    headers: {
      'content-type': 'application/octet-stream',
      'content-length': String(bytes),
      ...tagged(tag),
      'x-content-type-options': 'nosniff',
    },
  });
});
