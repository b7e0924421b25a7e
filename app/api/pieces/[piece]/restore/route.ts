import { done, requirePiece, restorePiece, signedRoute } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ db, account, params }) => {
  await restorePiece(db, await requirePiece(db, params.piece, account.id, true));
  return done();
});
