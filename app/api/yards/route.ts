import { NewYardRequest } from '@/api';
import { createYard, listYards, readJson, signedRoute } from '@/server';

export const GET = signedRoute(async ({ db, account }) => Response.json(await listYards(db, account.id)));

export const POST = signedRoute(async ({ request, db, account }) => {
  const { name } = await readJson(request, NewYardRequest);
  return Response.json({ id: await createYard(db, name, account.id) }, { status: 201 });
});
