import type { Metadata } from 'next';
import { RigView } from '@/ui/rig';
import { requireSignedIn } from '../../../pages';

export const metadata: Metadata = { title: 'Rig' };

export default async function RigPage() {
  await requireSignedIn();
  return <RigView />;
}
