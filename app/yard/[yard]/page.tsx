import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { HttpError, listPieces, listYards, requireYard } from '@/server';
import { YardView } from '@/ui/yard';
import { requireSignedIn } from '../../pages';

export const metadata: Metadata = { title: 'Yard' };

export default async function YardPage({ params }: { params: Promise<{ yard: string }> }) {
  const { db, account } = await requireSignedIn();
  const yard = await requireYard(db, (await params).yard, account.id).catch((e: unknown) => {
    if (e instanceof HttpError) notFound();
    throw e;
  });
  return <YardView yard={yard} yards={await listYards(db, account.id)} account={account.name} pieces={await listPieces(db, yard.id)} />;
}
