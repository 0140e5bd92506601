import type { NextConfig } from 'next';
import { SAFE_HEADERS } from './src/app/api/headers';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  // What a package says of itself in its folder, and what would otherwise be written anew for each of the routes that come to it.
  serverExternalPackages: [
    'sequelize',
    'pg',
    'pg-hstore',
    'pg-boss',
    'umzug',
    'sharp',
    'pino',
    'yazl',
    'yauzl',
    '@bokuweb/zstd-wasm',
    '@node-rs/crc32',
    'xxhash-wasm',
    'ag-psd',
    'image-q',
    'ktx-parse',
    '@gltf-transform/core',
    '@gltf-transform/extensions',
    'manifold-3d',
    'meshoptimizer',
    '@xmldom/xmldom',
    'mediabunny',
    'fft.js',
    'exceljs',
    'fontkit',
    'xliff',
    'gettext-parser',
    'papaparse',
    'ini',
    'yaml',
    'jsonc-parser',
    'cborg',
    '@msgpack/msgpack',
    'fastest-levenshtein',
    'picomatch',
    'lru-cache',
    'zod',
  ],
  headers: () =>
    Promise.resolve([
      { source: '/:path*', headers: Object.entries(SAFE_HEADERS).map(([key, value]) => ({ key, value })) },
    ]),
  // No page asks for pictures through it, and it would decode whatever it is told to.
  images: { unoptimized: true },
  turbopack: { root: process.cwd() },
  // A build writes what routes share once for each that comes to it by a path of its own; maps of that are four times as large, and a cache of it is kept for a build that comes
  // with the next version only.
  experimental: { turbopackSourceMaps: false, turbopackFileSystemCacheForBuild: false },
  // Types and lint are checked by bin/test; a start need not wait for them.
  typescript: { ignoreBuildErrors: true },
};

export default config;
