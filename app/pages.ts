/** What every page asks first: who is there. */
import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { currentAccount, database } from '@/server';

export async function requireSignedIn() {
  const db = database();
  const account = await currentAccount(db);
  if (!account) {
    const path = (await headers()).get('x-page');
    redirect(path && path !== '/' ? `/sign-in?back=${encodeURIComponent(path)}` : '/sign-in');
  }
  return { db, account };
}
