import { audit, callerOf, dropFinish, requireYard, signedRoute } from '@/server';

export const DELETE = signedRoute<{ yard: string; finish: string }>(async ({ request, db, account, params }) => {
  await requireYard(db, params.yard, account.id);
  const left = await dropFinish(db, params.yard, params.finish);
  await audit(db, { what: 'finish/deleted', account: account.id, yard: params.yard, subject: params.finish, from: callerOf(request) });
  return Response.json(left);
});
