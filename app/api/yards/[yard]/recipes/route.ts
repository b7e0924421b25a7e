import { NamedRecipeDraft } from '@/api';
import { keepRecipe, listRecipes, readJson, requireYard, signedRoute } from '@/server';

export const GET = signedRoute<{ yard: string }>(async ({ db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await listRecipes(db, params.yard));
});

/** Keeps a recipe under its name, over one that had it; answers with all. */
export const POST = signedRoute<{ yard: string }>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  return Response.json(await keepRecipe(db, params.yard, await readJson(request, NamedRecipeDraft)));
});
