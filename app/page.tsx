import { redirect } from 'next/navigation';
import { createYard, listYards } from '@/server';
import { requireSignedIn } from './pages';

export default async function Home() {
  const { db, account } = await requireSignedIn();
  const [first] = await listYards(db, account.id);
  redirect(`/yard/${first?.id ?? (await createYard(db, `${account.name}’s yard`, account.id))}`);
}
