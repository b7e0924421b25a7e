import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { config, countAccounts, currentAccount, database } from '@/server';
import { SignIn } from '@/ui/signin';

export const metadata: Metadata = { title: 'Sign in' };

export default async function SignInPage() {
  const db = database();
  if (await currentAccount(db)) redirect('/');
  const first = (await countAccounts(db)) === 0;
  const demo = config().demo && !first ? ((await db('yards').orderBy('created_at').first('name'))?.name ?? null) : null;
  return <SignIn first={first} demo={demo} />;
}
