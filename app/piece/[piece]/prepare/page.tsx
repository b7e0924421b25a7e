import type { Metadata } from 'next';
import { PrepareView } from '@/ui/prepare';
import { requireSignedIn } from '../../../pages';

export const metadata: Metadata = { title: 'Prepare' };

export default async function PreparePage() {
  await requireSignedIn();
  return <PrepareView />;
}
