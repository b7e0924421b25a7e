import type { Metadata } from 'next';
import { cookies } from 'next/headers';
import type { ReactNode } from 'react';
import { InWords } from '@/ui/kit/pagelink';
import { THEME_COOKIE } from '@/ui/kit/theme';
import './globals.css';

export const metadata: Metadata = {
  title: { default: 'Scaphos', template: '%s · Scaphos' },
  description: 'A workbench for people who prepare 3D assets for augmented reality.',
};
export const dynamic = 'force-dynamic';

export default async function RootLayout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get(THEME_COOKIE)?.value === 'nightwatch' ? 'nightwatch' : 'chartroom';
  return (
    <html lang="en" data-theme={theme}>
      <body className="h-screen overflow-hidden">
        <InWords />
        {children}
      </body>
    </html>
  );
}
