import { audit, callerOf, done, requirePiece, restorePiece, signedRoute } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  const row = await requirePiece(db, params.piece, account.id, true);
  await restorePiece(db, row);
  await audit(db, { what: 'piece/restored', account: account.id, yard: row.yard_id, subject: row.id, from: callerOf(request) });
  return done();
});
