import { audit, callerOf, config, done, notFound, openRoute, openSession, setSession } from '@/server';

/** One press into the demo account; there only in demo mode. */
export const POST = openRoute(async ({ request, db }) => {
  const account = config().demo && (await db('accounts').where({ email: config().demo }).first('id'));
  if (!account) throw notFound('page');
  await setSession(request, await openSession(db, account.id));
  await audit(db, { what: 'session/open', account: account.id, from: callerOf(request) });
  return done();
});
