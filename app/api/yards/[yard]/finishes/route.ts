import { KeptFinishDraft } from '@/api';
import { keepFinish, listFinishes, readJson, requireYard, signedRoute } from '@/server';

export const GET = signedRoute<{ yard: string }>(async ({ db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await listFinishes(db, params.yard));
});

/** Keeps a finish under its name, over one that had it; answers with all. */
export const POST = signedRoute<{ yard: string }>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await keepFinish(db, params.yard, await readJson(request, KeptFinishDraft)));
});
