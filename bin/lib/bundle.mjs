// Bundles entry points for Node: node bin/lib/bundle.mjs ENTRY OUTPUT, or --packages-outside OUTPUT-FOLDER ENTRY...
import { build } from 'esbuild';

const [first, ...rest] = process.argv.slice(2);
const outside = first === '--packages-outside';
await build({
  // What runs beside the installed packages takes them from there.
  ...(outside
    ? { entryPoints: rest.slice(1), outdir: rest[0], outExtension: { '.js': '.mjs' }, packages: 'external' }
    : { entryPoints: [first], outfile: rest[0] }),
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
