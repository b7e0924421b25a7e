import type { Metadata } from 'next';
import { StockView } from '@/ui/stock';
import { requireSignedIn } from '../../../pages';

export const metadata: Metadata = { title: 'Stock' };

export default async function StockPage() {
  await requireSignedIn();
  return <StockView />;
}
