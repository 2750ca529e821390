import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  // bin/test checks types; a start need not do it again.
  typescript: { ignoreBuildErrors: true },
  // Their code finds its files itself and must not be bundled.
  serverExternalPackages: [
    '@mikro-orm/core',
    '@mikro-orm/knex',
    '@mikro-orm/migrations',
    '@mikro-orm/postgresql',
    'pg',
    'pg-boss',
    'piscina',
    'sharp',
    'yauzl',
    'yazl',
  ],
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          // Cross-origin isolation: shared memory for the page's workers.
          { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
          { key: 'Content-Security-Policy', value: "frame-ancestors 'none'; object-src 'none'; base-uri 'self'" },
        ],
      },
    ]),
};

export default config;
