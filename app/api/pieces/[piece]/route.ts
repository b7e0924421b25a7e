import { answerPiece, deletePiece, done, requirePiece, signedRoute } from '@/server';

type Params = { piece: string };

export const GET = signedRoute<Params>(async ({ db, account, params }) =>
  Response.json(await answerPiece(db, await requirePiece(db, params.piece, account.id))),
);

export const DELETE = signedRoute<Params>(async ({ db, account, params }) => {
  const { id } = await requirePiece(db, params.piece, account.id);
  await deletePiece(db, id);
  return done();
});
