import { NewYardRequest } from '@/api';
import { done, readJson, renameYard, requireYard, signedRoute } from '@/server';

export const PUT = signedRoute<{ yard: string }>(async ({ request, db, account, params }) => {
  const yard = await requireYard(db, params.yard, account.id);
  const { name } = await readJson(request, NewYardRequest);
  await renameYard(db, yard.id, name);
  return done();
});
