import { SetupRequest } from '@/api';
import {
  audit,
  callerOf,
  done,
  openRoute,
  openSession,
  readJson,
  rememberDevice,
  STRANGER_BYTES,
  setDevice,
  setSession,
  setUpFirst,
} from '@/server';

/** The first account and its yard, while there is none. */
export const POST = openRoute(async ({ request, db }) => {
  const account = await setUpFirst(db, await readJson(request, SetupRequest, STRANGER_BYTES));
  await setDevice(request, await rememberDevice(db, account.id));
  await setSession(request, await openSession(db, account.id));
  await audit(db, { what: 'account/made', account: account.id, subject: account.email, from: callerOf(request) });
  return done();
});
