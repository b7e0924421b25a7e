import { SetupRequest } from '@/api';
import { countAccounts, done, HttpError, openRoute, openSession, readJson, setSession, setUpAccount } from '@/server';

/** The first account and its yard, while there is none. */
export const POST = openRoute(async ({ request, db }) => {
  const given = await readJson(request, SetupRequest);
  if ((await countAccounts(db)) > 0)
    throw new HttpError(409, 'account/set-up', 'There is an account here already. Sign in, or ask for one.');
  const account = await setUpAccount(db, given);
  await setSession(request, await openSession(db, account.id));
  return done();
});
