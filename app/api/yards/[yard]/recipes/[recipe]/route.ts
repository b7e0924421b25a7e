import { audit, callerOf, dropRecipe, requireYard, signedRoute } from '@/server';

export const DELETE = signedRoute<{ yard: string; recipe: string }>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  const left = await dropRecipe(db, params.yard, params.recipe);
  await audit(db, { what: 'recipe/deleted', account: account.id, yard: params.yard, subject: params.recipe, from: callerOf(request) });
  return Response.json(left);
});
