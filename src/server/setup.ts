import { SetupRequest } from '@/api';
import { type Account, countAccounts, createAccount, setPassword } from './accounts';
import type { Knex } from './db';
import { HttpError } from './errors';
import { queue } from './queue';
import { createYard } from './yards';

/** An account and its yard. @throws {ZodError} wrong shape; {HttpError} 409 the address has an account. */
export async function setUpAccount(db: Knex, given: unknown): Promise<Account> {
  const wanted = SetupRequest.parse(given);
  const account = await createAccount(db, wanted);
  await createYard(db, wanted.yard, account.id);
  return account;
}

/** Another password for an account, which is signed out everywhere. @throws {ZodError} no password that is taken */
export async function changePassword(db: Knex, accountId: string, given: string): Promise<void> {
  const { password } = SetupRequest.pick({ password: true }).parse({ password: given });
  await setPassword(db, accountId, password);
}

const oneAtATime = queue(1, 20, () => new HttpError(503, 'account/busy', 'The first account is being made. Try again in a moment.'));

/** The first account, while there is none. @throws {HttpError} 409 there is one; else as `setUpAccount` */
export const setUpFirst = (db: Knex, given: unknown): Promise<Account> =>
  oneAtATime(async () => {
    if ((await countAccounts(db)) > 0)
      throw new HttpError(409, 'account/set-up', 'There is an account here already. Sign in, or ask for one.');
    return setUpAccount(db, given);
  });
