import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { STEP_NAMES, STEPS, type Step, Unbuilt } from '@/ui/step';
import { requireSignedIn } from '../../../pages';

type Params = { params: Promise<{ step: string }> };

/** Steps that have no page of their own yet. */
const stepOf = async ({ params }: Params): Promise<Step> => {
  const { step } = await params;
  const found = STEPS.find((s) => s === step);
  return found ?? notFound();
};

export const generateMetadata = async (given: Params): Promise<Metadata> => ({ title: STEP_NAMES[await stepOf(given)] });

export default async function StepPage(given: Params) {
  await requireSignedIn();
  return <Unbuilt step={await stepOf(given)} />;
}
