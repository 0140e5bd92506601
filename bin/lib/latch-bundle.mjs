// Bundles the command line: node bin/lib/latch-bundle.mjs. The bundle, what it was made from, and what V8 makes of it are kept in the cache.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

const home = path.resolve(import.meta.dirname, '../..');
const cache = path.join(home, 'node_modules', '.cache', 'zero-latch');
const target = path.join(cache, 'latch');
fs.mkdirSync(cache, { recursive: true });
const fresh = fs.mkdtempSync(path.join(cache, 'latch-'));

const common = {
  absWorkingDir: home,
  entryPoints: ['src/cli/main.ts'],
  bundle: true,
  platform: 'node',
  target: 'node20',
  logLevel: 'warning',
  metafile: true,
  // Half as many bytes to read at each start; names stay, for what errors say.
  minifyWhitespace: true,
  minifySyntax: true,
  // Every character is one byte, which is how the bundle is read.
  charset: 'ascii',
  // Finds the binaries of their platform by themselves.
  external: ['@node-rs/crc32', 'sharp'],
  // Its other form asks for its parts in a way that no bundle sees.
  alias: { 'jsonc-parser': 'jsonc-parser/lib/esm/main.js' },
};
await build({
  ...common,
  outfile: path.join(fresh, 'latch.cjs'),
  format: 'cjs',
  define: { 'import.meta.url': 'bundleUrl' },
  banner: { js: "const bundleUrl = require('node:url').pathToFileURL(__filename).href;" },
  // Needs packages that wait while they load, which only modules can.
  plugins: [
    {
      name: 'recipes apart',
      setup: ({ onResolve }) =>
        onResolve({ filter: /^\.\/run-recipe$/ }, ({ path: wanted }) => ({ path: wanted, external: true })),
    },
  ],
});
const { metafile } = await build({
  ...common,
  outfile: path.join(fresh, 'latch.mjs'),
  format: 'esm',
  // CommonJS packages inside a module still ask for require.
  banner: {
    js: "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
  },
});
const stampOf = (file) => {
  const { size, mtimeMs } = fs.statSync(path.join(home, file));
  return `${size} ${mtimeMs}`;
};
const own = [
  ...Object.keys(metafile.inputs).filter((file) => file.startsWith('src/')),
  'package-lock.json',
  'bin/lib/latch-bundle.mjs',
];
const inputs = JSON.stringify({ inputs: own.map((file) => [file, stampOf(file)]) });
fs.writeFileSync(path.join(fresh, 'inputs.json'), inputs);
fs.mkdirSync(path.join(fresh, 'trees'));

// Of two starts that make the same at once the first one's stays: others may read it already.
try {
  if (fs.readFileSync(path.join(target, 'inputs.json'), 'utf8') === inputs) {
    fs.rmSync(fresh, { recursive: true, force: true });
    process.exit(0);
  }
} catch {
  // There is none yet.
}
const old = `${fresh}-old`;
try {
  fs.renameSync(target, old);
} catch (error) {
  if (error.code !== 'ENOENT') throw error;
}
try {
  fs.renameSync(fresh, target);
} catch (error) {
  if (error.code !== 'ENOTEMPTY' && error.code !== 'EEXIST') throw error;
  fs.rmSync(fresh, { recursive: true, force: true });
}
fs.rmSync(old, { recursive: true, force: true });

/** Runs the commands once, each with what V8 has from the one before, so that at last it has what all of them need. */
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-first-'));
try {
  const tar = path.join(work, 'one.tar');
  fs.writeFileSync(tar, oneTar());
  fs.writeFileSync(path.join(work, 'other.txt'), 'another text');
  const run = (...args) => {
    const kept = `latch.bin.${process.pid}`;
    spawnSync(path.join(home, 'bin/latch'), args, {
      env: { ...process.env, ZERO_LATCH_KEEP_CODE: kept },
      stdio: 'ignore',
    });
    if (fs.existsSync(path.join(target, kept)))
      fs.renameSync(path.join(target, kept), path.join(target, 'latch.bin'));
  };
  run('extract', tar, '--to', path.join(work, 'out'));
  run('repack', tar, '--change', `a.txt=${path.join(work, 'other.txt')}`, '--to', path.join(work, 'new.tar'));
  run('prove', tar);
  run('explain', tar);
  run('entries', tar, '--json');
} finally {
  fs.rmSync(work, { recursive: true, force: true });
}

/** A TAR (POSIX ustar) of one small text. */
function oneTar() {
  const bytes = Buffer.alloc(512 * 4);
  bytes.write('a.txt');
  bytes.write('0000644\0', 100);
  bytes.write('0000000\0' + '0000000\0', 108);
  bytes.write('00000000012\0' + '00000000000\0', 124);
  bytes.fill(' ', 148, 156);
  bytes.write('0', 156);
  bytes.write('ustar\x0000', 257);
  let sum = 0;
  for (const byte of bytes.subarray(0, 512)) sum += byte;
  bytes.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
  bytes.write('some text\n', 512);
  return bytes;
}
