import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { config, countAccounts, currentAccount, database } from '@/server';
import { SignIn } from '@/ui/signin';

export const metadata: Metadata = { title: 'Sign in' };

/** A page of ours that one was sent here from; nothing else. */
const backOf = (asked: unknown) => (typeof asked === 'string' && /^\/(piece|yard)\/[\w/-]*$/.test(asked) ? asked : '/');

export default async function SignInPage({ searchParams }: { searchParams: Promise<{ back?: unknown }> }) {
  const back = backOf((await searchParams).back);
  const db = database();
  if (await currentAccount(db)) redirect(back);
  const first = (await countAccounts(db)) === 0;
  const demo = config().demo && !first ? ((await db('yards').orderBy('created_at').first('name'))?.name ?? null) : null;
  return <SignIn first={first} demo={demo} back={back} />;
}
