import { type NextRequest, NextResponse } from 'next/server';
import { hostOf, MISDIRECTED } from '@/server/hosts';

/** Content security policy with a nonce a page. Kept off /api: a proxy before a route cuts long request bodies. */
export function proxy(request: NextRequest) {
  if (hostOf(request.headers) === null) return new NextResponse(MISDIRECTED, { status: 421 });
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "connect-src 'self' blob: data:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  // where one comes back to after signing in
  headers.set('x-page', request.nextUrl.pathname);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

export const config = { matcher: '/((?!api/|_next/|favicon.ico|icon.svg|words.js).*)' };
