import { readFileSync } from 'node:fs';
import type { NextConfig } from 'next';

/** On every answer, static files and workers included; the Content-Security-Policy of pages is set in `proxy.ts`. */
const HEADERS = [
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'Permissions-Policy', value: 'camera=(), microphone=(), geolocation=()' },
];

const NO_PAGE = {
  key: 'Content-Security-Policy',
  value: "default-src 'none'; frame-ancestors 'none'",
};

const { version } = JSON.parse(readFileSync('package.json', 'utf8')) as { version: string };

const config: NextConfig = {
  // Reports say which version made them.
  env: { DENGUNG_VERSION: version },
  reactStrictMode: true,
  poweredByHeader: false,
  // `npm test` checks types, of tests and tools as well; a build need not do it again.
  typescript: { ignoreBuildErrors: true },
  headers: () =>
    Promise.resolve([
      { source: '/:path*', headers: HEADERS },
      // What answers scripts does not pass through `proxy.ts`.
      { source: '/api/:path*', headers: [NO_PAGE] },
    ]),
};

export default config;
