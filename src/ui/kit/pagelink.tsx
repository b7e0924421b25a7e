'use client';
/** Ways to other pages: where the server cannot be reached one stays, and is told so. */
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import type { ComponentProps } from 'react';
import { say } from './say';

const AWAY = 'The server does not answer: you stay on this page, where everything is kept. Try again when it is back.';
/** A bound on a hang. */
const LONG_MS = 10_000;

const isReachable = () =>
  fetch('/icon.svg', { method: 'HEAD', cache: 'no-store', signal: AbortSignal.timeout(LONG_MS) }).then(
    () => true,
    () => false,
  );

/** Goes to another page of this Scaphos. */
export function useGo(): (href: string) => Promise<void> {
  const router = useRouter();
  return async (href) => {
    if (await isReachable()) router.push(href);
    else say.error(AWAY);
  };
}

export function PageLink({ href, ...rest }: Omit<ComponentProps<typeof Link>, 'href'> & { href: string }) {
  const go = useGo();
  return (
    <Link
      href={href}
      onNavigate={(e) => {
        e.preventDefault();
        void go(href);
      }}
      {...rest}
    />
  );
}
