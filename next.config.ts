import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['knex', 'mysql2', 'pino', 'sharp', '@node-rs/argon2', 'busboy', 'prom-client'],
  poweredByHeader: false,
  reactStrictMode: true,
  // types are checked by the tests' first step, and by no one who only wants to run it
  typescript: { ignoreBuildErrors: true },
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'x-content-type-options', value: 'nosniff' },
        { key: 'referrer-policy', value: 'same-origin' },
        { key: 'x-frame-options', value: 'DENY' },
      ],
    },
  ],
};

export default config;
