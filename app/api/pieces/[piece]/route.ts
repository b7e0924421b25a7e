import { answerPiece, audit, callerOf, deletePiece, done, requirePiece, signedRoute } from '@/server';

type Params = { piece: string };

export const GET = signedRoute<Params>(async ({ db, account, params }) =>
  Response.json(await answerPiece(db, await requirePiece(db, params.piece, account.id))),
);

export const DELETE = signedRoute<Params>(async ({ request, db, account, params }) => {
  const row = await requirePiece(db, params.piece, account.id);
  await deletePiece(db, row.id);
  await audit(db, { what: 'piece/deleted', account: account.id, yard: row.yard_id, subject: row.id, from: callerOf(request) });
  return done();
});
