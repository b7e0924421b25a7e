/** Accounts, sign-in and sessions. Passwords as argon2id; session tokens are kept only as their SHA-256. */
import { createHash, randomBytes } from 'node:crypto';
import type { Knex } from './db';
import { HttpError } from './errors';
import { newId } from './ids';
import { hashPassword } from './passwords';

export const SESSION_DAYS = 30;
/** A browser is known so long after it first signed in. */
export const DEVICE_DAYS = 365;
export const SESSION_COOKIE = 'scaphos_session';

export interface Account {
  id: string;
  email: string;
  name: string;
}

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');

export async function countAccounts(db: Knex): Promise<number> {
  const row = await db('accounts').count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}

/** @throws {HttpError} 409 the address has an account. */
export async function createAccount(db: Knex, given: { email: string; name: string; password: string }): Promise<Account> {
  const account = { id: newId(), email: given.email.trim().toLowerCase(), name: given.name };
  const password_hash = await hashPassword(given.password);
  await db('accounts')
    .insert({ ...account, password_hash, created_at: new Date() })
    .catch((error: { code?: string }) => {
      if (error.code === 'ER_DUP_ENTRY') throw new HttpError(409, 'account/taken', `${account.email} has an account here already.`);
      throw error;
    });
  return account;
}

/** Another password; whoever is signed in, or was, has to give it. */
export async function setPassword(db: Knex, accountId: string, password: string): Promise<void> {
  await db('accounts')
    .where({ id: accountId })
    .update({ password_hash: await hashPassword(password) });
  await db('devices').where({ account_id: accountId }).delete();
  await endSessions(db, accountId);
}

/** Ends every session of an account. Returns how many there were. */
export const endSessions = (db: Knex, accountId: string): Promise<number> =>
  db('sessions').where({ account_id: accountId }).where('expires_at', '>', new Date()).delete();

/** Sessions that have run out, and browsers that nobody has signed in from for long, are forgotten. */
export async function sweepSessions(db: Knex, now = new Date()): Promise<void> {
  await db('sessions').where('expires_at', '<', now).delete();
  await db('devices')
    .where('created_at', '<', new Date(now.getTime() - DEVICE_DAYS * 86_400_000))
    .delete();
}

/** Returns the token for the cookie. */
export async function openSession(db: Knex, accountId: string): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await db('sessions').insert({
    token_hash: sha256(token),
    account_id: accountId,
    expires_at: new Date(Date.now() + SESSION_DAYS * 86_400_000),
  });
  return token;
}

export async function sessionAccount(db: Knex, token: string | undefined): Promise<Account | null> {
  if (!token) return null;
  const row = await db('sessions')
    .join('accounts', 'accounts.id', 'sessions.account_id')
    .where('token_hash', sha256(token))
    .where('expires_at', '>', new Date())
    .first('accounts.id', 'email', 'name');
  return row ?? null;
}

const held = globalThis as { scaphosSessionEnds?: Map<string, Set<() => void>> };
const ends = () => {
  held.scaphosSessionEnds ??= new Map();
  return held.scaphosSessionEnds;
};

/** Calls `end` when the session is closed, for what goes on after its request: streams. Returns how to stop waiting for it. */
export function onSessionEnd(token: string, end: () => void): () => void {
  const key = sha256(token);
  const waiting = ends().get(key) ?? new Set();
  ends().set(key, waiting.add(end));
  return () => {
    waiting.delete(end);
    if (waiting.size === 0 && ends().get(key) === waiting) ends().delete(key);
  };
}

export async function closeSession(db: Knex, token: string): Promise<void> {
  await db('sessions').where('token_hash', sha256(token)).delete();
  for (const end of ends().get(sha256(token)) ?? []) end();
}
