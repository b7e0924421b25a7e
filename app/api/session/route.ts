import { SignInRequest } from '@/api';
import {
  clearSession,
  closeSession,
  deviceToken,
  done,
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
  const { account, device } = await signIn(db, { ...given, device: await deviceToken() });
  await setDevice(request, device);
  await setSession(request, await openSession(db, account.id));
  return done();
});

/** What the browser keeps of this account's files goes with the session. */
export const DELETE = openRoute(async ({ db }) => {
  const token = await clearSession();
  if (token) await closeSession(db, token);
  const response = done();
  response.headers.set('clear-site-data', '"cache"');
  return response;
});
