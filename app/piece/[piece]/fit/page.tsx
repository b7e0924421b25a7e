import type { Metadata } from 'next';
import { FitView } from '@/ui/fit';
import { requireSignedIn } from '../../../pages';

export const metadata: Metadata = { title: 'Fit' };

export default async function FitPage() {
  await requireSignedIn();
  return <FitView />;
}
