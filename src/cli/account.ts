/** Accounts and their sessions without a browser, beside a running server too. */
import { ZodError } from 'zod';
import { endSessions } from '@/server/accounts';
import { AUDITED, type Audited, audit, readAudit } from '@/server/audit';
import { type Knex, openDatabase } from '@/server/db';
import { HttpError } from '@/server/errors';
import { changePassword, setUpAccount } from '@/server/setup';
import { withAnyDatabase } from './database';
import { CliFailure, say } from './failure';

export interface AccountWords {
  email?: string;
  name?: string;
  yard?: string;
  password?: string;
}

/** @throws {CliFailure} in a plain sentence */
const withAccounts = (work: (db: Knex) => Promise<void>): Promise<number> =>
  withAnyDatabase(async (url) => {
    const db = openDatabase(url);
    try {
      await work(db);
      return 0;
    } catch (error) {
      if (error instanceof ZodError)
        throw new CliFailure(
          `${error.issues[0].path.join('.')}: ${error.issues[0].message}. Give --email, --password (or SCAPHOS_PASSWORD), and if you like --name and --yard.`,
          64,
        );
      if (error instanceof HttpError) throw new CliFailure(error.message, 75);
      throw error;
    } finally {
      await db.destroy();
    }
  });

const passwordOf = (given: AccountWords) => given.password ?? process.env.SCAPHOS_PASSWORD ?? '';

async function accountId(db: Knex, email: string | undefined): Promise<string> {
  const row = email ? await db('accounts').where({ email: email.trim().toLowerCase() }).first('id') : null;
  if (!row) throw new CliFailure(`There is no account ${email ?? 'named: give --email'}. ./scaphos account list names them.`, 64);
  return row.id;
}

const note = (db: Knex, what: Audited, account: string, subject?: string) => audit(db, { what, account, subject, from: 'command line' });

const ACTS: Record<string, (given: AccountWords) => Promise<number>> = {
  'account add': (given) =>
    withAccounts(async (db) => {
      const yard = given.yard ?? 'First yard';
      const name = given.name ?? given.email?.split('@')[0] ?? '';
      const account = await setUpAccount(db, { email: given.email ?? '', name, yard, password: passwordOf(given) });
      await note(db, 'account/made', account.id, account.email);
      say(`${account.email} has an account now, and the yard ${yard}.`);
    }),
  'account list': () =>
    withAccounts(async (db) => {
      const open = db('sessions')
        .where('expires_at', '>', new Date())
        .select('account_id')
        .count({ open: '*' })
        .groupBy('account_id')
        .as('s');
      const rows = await db('accounts')
        .leftJoin(open, 's.account_id', 'accounts.id')
        .orderBy('email')
        .select('email', 'name', 'created_at', 's.open');
      for (const r of rows)
        process.stdout.write(
          `${[r.email, r.name, `since ${r.created_at.toISOString().slice(0, 10)}`, `${r.open ?? 0} sessions`].join('\t')}\n`,
        );
    }),
  'account password': (given) =>
    withAccounts(async (db) => {
      const id = await accountId(db, given.email);
      await changePassword(db, id, passwordOf(given));
      await note(db, 'account/password', id, given.email);
      say(`${given.email} has another password now, and is signed out everywhere.`);
    }),
  'session end': (given) =>
    withAccounts(async (db) => {
      const id = await accountId(db, given.email);
      const ended = await endSessions(db, id);
      await note(db, 'session/ended', id, given.email);
      say(`${ended} session${ended === 1 ? '' : 's'} of ${given.email} ended.`);
    }),
};
export const ACCOUNT_ACTS = Object.keys(ACTS);

export const actOnAccounts = (act: string, given: AccountWords): Promise<number> | null => ACTS[act]?.(given) ?? null;

/** Everything that was written down since a day, a line each: tabs between, or JSON. @throws {CliFailure} no day */
export function showAudit({ since = '1970-01-01', json = false }: { since?: string; json?: boolean }): Promise<number> {
  const from = new Date(since);
  if (Number.isNaN(from.getTime())) throw new CliFailure(`--since ${since} is no day. Write it as 2026-01-31.`, 64);
  return withAccounts(async (db) => {
    for (const r of await readAudit(db, from))
      process.stdout.write(
        json
          ? `${JSON.stringify(r)}\n`
          : `${[r.at, r.account ?? '', AUDITED[r.what] ?? r.what, r.subject ?? '', r.yard ?? '', r.from ?? ''].join('\t')}\n`,
      );
  });
}
