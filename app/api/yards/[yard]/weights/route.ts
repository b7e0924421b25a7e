import { requireYard, signedRoute, weighYard, yardDocuments } from '@/server';

export const GET = signedRoute<{ yard: string }>(async ({ db, account, params }) => {
  const yard = await requireYard(db, params.yard, account.id);
  return Response.json(await weighYard(await yardDocuments(db, yard.id), yard.id));
});
