import { NewPieceRequest } from '@/api';
import { listPieces, newPiece, readJson, requireYard, signedRoute } from '@/server';

type Params = { yard: string };

export const GET = signedRoute<Params>(async ({ db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await listPieces(db, params.yard));
});

export const POST = signedRoute<Params>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  const { name } = await readJson(request, NewPieceRequest);
  return Response.json({ id: await newPiece(db, params.yard, name) }, { status: 201 });
});
