import { notFound } from 'next/navigation';
import type { ReactNode } from 'react';
import { answerPiece, HttpError, requirePiece } from '@/server';
import { PieceProvider } from '@/ui/piece/context';
import { StepShell } from '@/ui/step';
import { requireSignedIn } from '../../pages';

/** The piece stays open while one walks its steps. */
export default async function PieceLayout({ params, children }: { params: Promise<{ piece: string }>; children: ReactNode }) {
  const { db, account } = await requireSignedIn();
  const row = await requirePiece(db, (await params).piece, account.id).catch((e: unknown) => {
    if (e instanceof HttpError) notFound();
    throw e;
  });
  return (
    <PieceProvider answer={await answerPiece(db, row)}>
      <StepShell account={account.name}>{children}</StepShell>
    </PieceProvider>
  );
}
