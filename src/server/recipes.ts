/** Recipes a yard keeps under a name: steps for any model, in no piece. */
import type { NamedRecipe, NamedRecipeDraft } from '@/api';
import { RecipeFile, type StepDraft } from '@/core/piece';
import type { Knex } from './db';
import { HttpError, notFound } from './errors';
import { newId } from './ids';

/** Of one yard. */
const MOST = 200;

interface Row {
  id: string;
  name: string;
  steps: string;
}

/** By name; one whose steps are of an older shape is left out. */
export async function listRecipes(db: Knex, yardId: string): Promise<NamedRecipe[]> {
  const rows: Row[] = await db('recipes').where('yard_id', yardId).orderBy('name').select('id', 'name', 'steps');
  return rows.flatMap(({ id, name, steps }) => {
    const read = RecipeFile.safeParse({ name, steps: JSON.parse(steps) });
    return read.success ? [{ id, name, steps: read.data.steps as (StepDraft & { on: boolean })[] }] : [];
  });
}

/** Keeps a recipe; one of the same name is written over. @throws {HttpError} 422 the yard has too many */
export async function keepRecipe(db: Knex, yardId: string, { name, steps }: NamedRecipeDraft): Promise<NamedRecipe[]> {
  const had = await db('recipes').where({ yard_id: yardId, name }).first('id');
  const [{ n }] = await db('recipes').where('yard_id', yardId).count({ n: '*' });
  if (!had && Number(n) >= MOST)
    throw new HttpError(422, 'recipe/too-many', `The yard keeps ${MOST} recipes already. Take one out that is not needed any more.`);
  await db('recipes')
    .insert({ id: newId(), yard_id: yardId, name, steps: JSON.stringify(steps), created_at: new Date() })
    .onConflict(['yard_id', 'name'])
    .merge(['steps']);
  return listRecipes(db, yardId);
}

/** @throws {HttpError} 404 no such recipe in the yard */
export async function dropRecipe(db: Knex, yardId: string, id: string): Promise<NamedRecipe[]> {
  if ((await db('recipes').where({ yard_id: yardId, id }).delete()) === 0) throw notFound('recipe');
  return listRecipes(db, yardId);
}
