import type { Metadata } from 'next';
import { DeliverView } from '@/ui/deliver';
import { requireSignedIn } from '../../../pages';

export const metadata: Metadata = { title: 'Deliver' };

export default async function DeliverPage() {
  await requireSignedIn();
  return <DeliverView />;
}
