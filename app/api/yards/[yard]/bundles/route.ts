import { insertPiece, requireYard, signedRoute, takeBundle } from '@/server';

export const POST = signedRoute<{ yard: string }>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  const piece = await takeBundle(db, params.yard, request);
  return Response.json({ id: await insertPiece(db, params.yard, piece) }, { status: 201 });
});
