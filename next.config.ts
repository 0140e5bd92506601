import type { NextConfig } from 'next';
import { SAFE_HEADERS } from './src/app/api/headers';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: [
    'sequelize',
    'pg',
    'pg-hstore',
    'pg-boss',
    'umzug',
    'sharp',
    'pino',
    'yazl',
    '@bokuweb/zstd-wasm',
    '@node-rs/crc32',
  ],
  headers: () =>
    Promise.resolve([
      { source: '/:path*', headers: Object.entries(SAFE_HEADERS).map(([key, value]) => ({ key, value })) },
    ]),
  // No page asks for pictures through it, and it would decode whatever it is told to.
  images: { unoptimized: true },
  turbopack: { root: process.cwd() },
  // Maps of 160 routes are four fifths of what a build writes, and of the time that it takes.
  experimental: { turbopackSourceMaps: false },
  // Types and lint are checked by bin/test; a start need not wait for them.
  typescript: { ignoreBuildErrors: true },
};

export default config;
