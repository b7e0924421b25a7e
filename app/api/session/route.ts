import { SignInRequest } from '@/api';
import {
  audit,
  callerOf,
  clearSession,
  closeSession,
  currentAccount,
  deviceToken,
  done,
  HttpError,
  openRoute,
  openSession,
  readJson,
  STRANGER_BYTES,
  setDevice,
  setSession,
  signIn,
} from '@/server';

export const POST = openRoute(async ({ request, db }) => {
  const given = await readJson(request, SignInRequest, STRANGER_BYTES);
  const from = callerOf(request);
  const { account, device } = await signIn(db, { ...given, device: await deviceToken() }).catch(async (error: unknown) => {
    // what was not even checked is not written down: strangers could fill the disk with it
    if (error instanceof HttpError && error.status === 401) await audit(db, { what: 'session/refused', subject: given.email, from });
    throw error;
  });
  await setDevice(request, device);
  await setSession(request, await openSession(db, account.id));
  await audit(db, { what: 'session/open', account: account.id, from });
  return done();
});

/** What the browser keeps of this account's files goes with the session. */
export const DELETE = openRoute(async ({ request, db }) => {
  const account = await currentAccount(db);
  const token = await clearSession();
  if (token) await closeSession(db, token);
  if (account) await audit(db, { what: 'session/closed', account: account.id, from: callerOf(request) });
  const response = done();
  response.headers.set('clear-site-data', '"cache"');
  return response;
});
