/** Accounts, sign-in and sessions. Passwords as argon2id; session tokens are kept only as their SHA-256. */
import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import type { Knex } from './db';
import { HttpError } from './errors';
import { newId } from './ids';

export const SESSION_DAYS = 30;
export const SESSION_COOKIE = 'scaphos_session';

export interface Account {
  id: string;
  email: string;
  name: string;
}

/** OWASP's least setting for argon2id (19 MiB, 2 passes, 1 lane), *from memory*. */
const ARGON2 = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };
const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');

export async function countAccounts(db: Knex): Promise<number> {
  const row = await db('accounts').count({ n: '*' }).first();
  return Number(row?.n ?? 0);
}

/** @throws {HttpError} 409 the address has an account. */
export async function createAccount(db: Knex, given: { email: string; name: string; password: string }): Promise<Account> {
  const account = { id: newId(), email: given.email.trim().toLowerCase(), name: given.name };
  const password_hash = await hash(given.password, ARGON2);
  await db('accounts')
    .insert({ ...account, password_hash, created_at: new Date() })
    .catch((error: { code?: string }) => {
      if (error.code === 'ER_DUP_ENTRY') throw new HttpError(409, 'account/taken', `${account.email} has an account here already.`);
      throw error;
    });
  return account;
}

const WRONG = () => new HttpError(401, 'account/wrong', 'That address and password do not belong together here. Check both and try again.');
/** Verified against where there is no account, so that both answers take as long. */
let decoy: Promise<string> | null = null;

/** @throws {HttpError} 401, the same words for an unknown account and a wrong password. */
export async function checkPassword(db: Knex, email: string, password: string): Promise<Account> {
  const row = await db('accounts').where({ email: email.trim().toLowerCase() }).first();
  decoy ??= hash('no account has this password', ARGON2);
  const right = await verify(row?.password_hash ?? (await decoy), password).catch(() => false);
  if (!row || !right) throw WRONG();
  return { id: row.id, email: row.email, name: row.name };
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

export async function closeSession(db: Knex, token: string): Promise<void> {
  await db('sessions').where('token_hash', sha256(token)).delete();
}

const WINDOW_MS = 15 * 60_000;
const TRIES = 10;
const failures = new Map<string, number[]>();

/** @throws {HttpError} 429 after ten failures in a quarter of an hour for one address. */
export function guardSignIn(key: string, now = Date.now()): void {
  const recent = (failures.get(key) ?? []).filter((t) => t > now - WINDOW_MS);
  if (recent.length === 0) failures.delete(key);
  if (recent.length < TRIES) return;
  const minutes = Math.ceil((recent[0] + WINDOW_MS - now) / 60_000);
  throw new HttpError(
    429,
    'account/too-often',
    `There were ${TRIES} wrong tries. Wait ${minutes} minute${minutes === 1 ? '' : 's'} and try again.`,
  );
}

export function noteFailure(key: string, now = Date.now()): void {
  if (failures.size > 10_000) failures.clear();
  failures.set(key, [...(failures.get(key) ?? []).filter((t) => t > now - WINDOW_MS), now]);
}

export const forgetFailures = (key: string): void => void failures.delete(key);
