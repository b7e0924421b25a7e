import { requirePiece, signedRoute, takeUpload } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  return Response.json(await takeUpload(db, yard_id, request), { status: 201 });
});
