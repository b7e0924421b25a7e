import type { NextConfig } from 'next';

/** As the page's own (proxy.ts), for what has no markup. */
const WORKERS = [
  "default-src 'self'",
  "script-src 'self' 'wasm-unsafe-eval'",
  "img-src 'self' blob: data:",
  "connect-src 'self' blob: data:",
  "worker-src 'self' blob:",
  "object-src 'none'",
].join('; ');

const config: NextConfig = {
  serverExternalPackages: ['knex', 'mysql2', 'pino', 'sharp', '@node-rs/argon2', 'busboy', 'prom-client'],
  poweredByHeader: false,
  reactStrictMode: true,
  // types are checked by the tests' first step, and by no one who only wants to run it
  typescript: { ignoreBuildErrors: true },
  // its sources instead of its two large files: a step that only reckons with matrices does not fetch what draws
  turbopack: { resolveAlias: { three: 'three/src/Three.js' } },
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'x-content-type-options', value: 'nosniff' },
        { key: 'referrer-policy', value: 'same-origin' },
        { key: 'x-frame-options', value: 'DENY' },
      ],
    },
    {
      // a worker is under the policy of its own file, not of the page that began it
      source: '/:file(_next/.*|words.js)',
      headers: [{ key: 'content-security-policy', value: WORKERS }],
    },
  ],
};

export default config;
