import type { Metadata } from 'next';
import { cookies, headers } from 'next/headers';
import type { ReactNode } from 'react';
import { InWords } from '@/ui/kit/inwords';
import { THEME_COOKIE } from '@/ui/kit/theme';
import './globals.css';

export const metadata: Metadata = {
  title: { default: 'Scaphos', template: '%s · Scaphos' },
  description: 'A workbench for people who prepare 3D assets for augmented reality.',
};
export const dynamic = 'force-dynamic';

export default async function RootLayout({ children }: { children: ReactNode }) {
  const chosen = (await cookies()).get(THEME_COOKIE)?.value;
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en" data-theme={chosen === 'nightwatch' ? 'nightwatch' : 'chartroom'} suppressHydrationWarning>
      {/* until one chooses, the system's own; before anything is drawn */}
      {!chosen && (
        <head>
          <script nonce={nonce} suppressHydrationWarning>
            {"if (matchMedia('(prefers-color-scheme: dark)').matches) document.documentElement.dataset.theme = 'nightwatch'"}
          </script>
        </head>
      )}
      <body className="h-screen overflow-hidden">
        <InWords />
        {children}
      </body>
    </html>
  );
}
