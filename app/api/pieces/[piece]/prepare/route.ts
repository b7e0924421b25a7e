import { PrepareRequest } from '@/api';
import { prepareFile, readJson, requirePiece, signedRoute } from '@/server';

/** Runs a recipe on a stock file; what it yields is kept in the yard, and nothing changes in the piece until it is edited. */
export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  const { yard_id } = await requirePiece(db, params.piece, account.id);
  const body = await readJson(request, PrepareRequest);
  return Response.json(await prepareFile(db, yard_id, body, request.signal));
});
