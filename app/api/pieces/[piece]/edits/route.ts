import { SaveRequest } from '@/api';
import { readJson, requirePiece, saveEdits, signedRoute } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  await requirePiece(db, params.piece, account.id);
  return Response.json({ revision: await saveEdits(db, params.piece, account.id, await readJson(request, SaveRequest)) });
});
