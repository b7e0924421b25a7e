import { SaveRequest } from '@/api';
import { readJson, requireMember, saveEdits, signedRoute } from '@/server';

export const POST = signedRoute<{ piece: string }>(async ({ request, db, account, params }) => {
  // before anything of what was sent is read
  await requireMember(db, params.piece, account.id);
  return Response.json({ revision: await saveEdits(db, params.piece, account.id, await readJson(request, SaveRequest)) });
});
