import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { DeliverView } from '@/ui/deliver';
import { FitView } from '@/ui/fit';
import { PrepareView } from '@/ui/prepare';
import { STEPS, type Step, StepShell, Unbuilt } from '@/ui/step';
import { StockView } from '@/ui/stock';
import { requireSignedIn } from '../../../pages';

type Params = { params: Promise<{ piece: string; step: string }> };

const isStep = (s: string): s is Step => STEPS.includes(s as Step);

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const { step } = await params;
  return { title: step.charAt(0).toUpperCase() + step.slice(1) };
}

export default async function StepPage({ params }: Params) {
  const { account } = await requireSignedIn();
  const { step } = await params;
  if (!isStep(step)) notFound();
  return (
    <StepShell step={step} account={account.name}>
      {step === 'stock' ? (
        <StockView />
      ) : step === 'prepare' ? (
        <PrepareView />
      ) : step === 'fit' ? (
        <FitView />
      ) : step === 'deliver' ? (
        <DeliverView />
      ) : (
        <Unbuilt step={step} />
      )}
    </StepShell>
  );
}
