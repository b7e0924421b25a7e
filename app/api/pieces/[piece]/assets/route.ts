import { TakeRequest } from '@/api';
import { readJson, requirePiece, signedRoute, takeUploads } from '@/server';

/** Finished uploads become stock files. */
export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  const body = await readJson(request, TakeRequest);
  return Response.json(await takeUploads(db, yard_id, account.id, body, request.signal), { status: 201 });
});
