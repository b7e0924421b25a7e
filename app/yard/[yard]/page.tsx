import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { HttpError, listPieces, listYards, requireYard, yardUse } from '@/server';
import { YardView } from '@/ui/yard';
import { requireSignedIn } from '../../pages';

export const metadata: Metadata = { title: 'Yard' };

export default async function YardPage({ params }: { params: Promise<{ yard: string }> }) {
  const { db, account } = await requireSignedIn();
  const yard = await requireYard(db, (await params).yard, account.id).catch((e: unknown) => {
    if (e instanceof HttpError) notFound();
    throw e;
  });
  const [yards, pieces, use] = [await listYards(db, account.id), await listPieces(db, yard.id), await yardUse(db, yard.id)];
  return <YardView yard={yard} yards={yards} account={account.name} pieces={pieces} use={use} />;
}
