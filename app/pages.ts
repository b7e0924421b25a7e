/** What every page asks first: who is there. */
import { redirect } from 'next/navigation';
import { currentAccount, database } from '@/server';

export async function requireSignedIn() {
  const db = database();
  const account = await currentAccount(db);
  if (!account) redirect('/sign-in');
  return { db, account };
}
