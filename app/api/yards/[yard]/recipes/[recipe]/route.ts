import { dropRecipe, requireYard, signedRoute } from '@/server';

export const DELETE = signedRoute<{ yard: string; recipe: string }>(async ({ db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await dropRecipe(db, params.yard, params.recipe));
});
