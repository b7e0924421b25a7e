import { SignInRequest } from '@/api';
import {
  checkPassword,
  clearSession,
  closeSession,
  done,
  forgetFailures,
  guardSignIn,
  HttpError,
  noteFailure,
  openRoute,
  openSession,
  readJson,
  setSession,
} from '@/server';

export const POST = openRoute(async ({ request, db }) => {
  const { email, password } = await readJson(request, SignInRequest);
  // by address alone: a sender can put anything into the headers that tell where it comes from
  const key = email.trim().toLowerCase();
  guardSignIn(key);
  try {
    const account = await checkPassword(db, email, password);
    forgetFailures(key);
    await setSession(request, await openSession(db, account.id));
    return done();
  } catch (error) {
    if (error instanceof HttpError && error.status === 401) noteFailure(key);
    throw error;
  }
});

export const DELETE = openRoute(async ({ db }) => {
  const token = await clearSession();
  if (token) await closeSession(db, token);
  return done();
});
