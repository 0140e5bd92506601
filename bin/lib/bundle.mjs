// Bundles one entry point for Node: node bin/lib/bundle.mjs ENTRY OUTPUT
import { build } from 'esbuild';

const [entry, outfile] = process.argv.slice(2);
await build({
  entryPoints: [entry],
  outfile,
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  logLevel: 'warning',
  // Finds the binary of its platform by itself.
  external: ['@node-rs/crc32'],
  // CommonJS packages inside an ES module still ask for require.
  banner: {
    js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
  },
});
