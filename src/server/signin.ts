/**
 * Signing in: tries are counted before they are checked, by the account and not by how its address is spelled. Who has signed in from a
 * browser before is counted apart, so that a stranger's wrong tries do not lock the owner out (OWASP, “Slow Down Online Guessing Attacks
 * with Device Cookies”).
 */

import { createHash, randomBytes } from 'node:crypto';
import { counted } from '@/core/words/counted';
import type { Account } from './accounts';
import type { Knex } from './db';
import { HttpError } from './errors';
import { isPassword } from './passwords';

export const DEVICE_COOKIE = 'scaphos_device';
const WINDOW_MS = 15 * 60_000;
const TRIES = 10;
/** Counted at once; beyond, what is oldest is forgotten first. */
const MOST_COUNTED = 10_000;

const sha256 = (text: string) => createHash('sha256').update(text).digest('hex');

/** As the address column compares: without accents and case. */
const bare = (email: string) => email.trim().normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

const held = globalThis as { scaphosTries?: Map<string, number[]> };
const tries = () => {
  held.scaphosTries ??= new Map();
  return held.scaphosTries;
};

/** @throws {HttpError} 429 after ten tries in a quarter of an hour that were not forgotten since */
function countTry(key: string, now: number): void {
  const all = tries();
  const recent = (all.get(key) ?? []).filter((t) => t > now - WINDOW_MS);
  if (recent.length >= TRIES) {
    const minutes = Math.ceil((recent[0] + WINDOW_MS - now) / 60_000);
    throw new HttpError(429, 'account/too-often', `There were ${TRIES} wrong tries. Wait ${counted(minutes, 'minute')} and try again.`);
  }
  all.delete(key);
  for (const [oldest] of all) {
    if (all.size < MOST_COUNTED) break;
    all.delete(oldest);
  }
  all.set(key, [...recent, now]);
}

/** The account and the token of this browser. @throws {HttpError} 401, the same words for an unknown account and a wrong password; 429 */
export async function signIn(
  db: Knex,
  given: { email: string; password: string; device?: string },
  now = Date.now(),
): Promise<{ account: Account; device: string }> {
  const row = await db('accounts').where({ email: given.email.trim().toLowerCase() }).first();
  const known =
    row && given.device
      ? await db('devices')
          .where({ token_hash: sha256(given.device), account_id: row.id })
          .first('token_hash')
      : null;
  const key = known ? `device ${known.token_hash}` : `address ${row ? row.id : bare(given.email)}`;
  countTry(key, now);
  if (!(await isPassword(row?.password_hash, given.password)))
    throw new HttpError(401, 'account/wrong', 'That address and password do not belong together here. Check both and try again.');
  tries().delete(key);
  const account = { id: row.id, email: row.email, name: row.name };
  return { account, device: known ? (given.device as string) : await rememberDevice(db, row.id) };
}

/** A browser that signed in is known from now on. Returns the token for its cookie. */
export async function rememberDevice(db: Knex, accountId: string): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await db('devices').insert({ token_hash: sha256(token), account_id: accountId, created_at: new Date() });
  return token;
}
