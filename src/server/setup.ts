import { SetupRequest } from '@/api';
import { type Account, createAccount } from './accounts';
import type { Knex } from './db';
import { createYard } from './yards';

/** An account and its yard. @throws {ZodError} wrong shape; {HttpError} 409 the address has an account. */
export async function setUpAccount(db: Knex, given: unknown): Promise<Account> {
  const wanted = SetupRequest.parse(given);
  const account = await createAccount(db, wanted);
  await createYard(db, wanted.yard, account.id);
  return account;
}
