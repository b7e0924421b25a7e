import { documentOf, requirePiece, signedRoute, weighPiece } from '@/server';

export const GET = signedRoute<{ piece: string }>(async ({ db, account, params }) => {
  const row = await requirePiece(db, params.piece, account.id);
  return Response.json({ revision: row.revision, bytes: await weighPiece(documentOf(row), { yardId: row.yard_id, pieceId: row.id }) });
});
