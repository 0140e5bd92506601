/* eslint-disable @typescript-eslint/no-require-imports -- a module would take ten milliseconds more to load. */
// Runs the command line from its bundle, with what V8 compiled of it at an earlier run: compiling takes longer than most commands.
'use strict';
const fs = require('node:fs');
const path = require('node:path');
const vm = require('node:vm');

const home = path.resolve(__dirname, '../..');
const folder = path.join(home, 'node_modules', '.cache', 'zero-latch', 'latch');
const at = (name) => path.join(folder, name);

/** Whether everything that the bundle was made from is as it was. */
function isFresh() {
  try {
    const { inputs } = JSON.parse(fs.readFileSync(at('inputs.json'), 'utf8'));
    for (const [file, stamp] of inputs) {
      const stat = fs.statSync(path.join(home, file), { throwIfNoEntry: false });
      if (!stat || `${stat.size} ${stat.mtimeMs}` !== stamp) return false;
    }
    return true;
  } catch {
    return false;
  }
}

function bundle() {
  const { spawnSync } = require('node:child_process');
  const made = spawnSync(process.execPath, [path.join(__dirname, 'latch-bundle.mjs')], {
    cwd: home,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (made.status !== 0) process.exit(2);
}

/** The bundle; while another start puts a new one in its place there is none for a moment. */
function bundled() {
  for (let tries = 0; ; tries++)
    try {
      return fs.readFileSync(at('latch.cjs'), 'latin1');
    } catch (error) {
      if (error.code !== 'ENOENT' || tries > 100) throw error;
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 20);
    }
}

const { isMainThread } = require('node:worker_threads');
if (isMainThread) {
  process.env.ZERO_LATCH_HOME = home;
  process.env.ZERO_LATCH_TREES = at('trees');
  if (!isFresh()) {
    if (!fs.existsSync(path.join(home, 'node_modules', 'esbuild'))) {
      process.stderr.write(
        `The packages are not installed yet: run 'npm ci' in ${home}, or bin/start once.\n`,
      );
      process.exit(2);
    }
    bundle();
  }
}

if (isMainThread && process.argv[2] === 'run') {
  import(at('latch.mjs'));
} else {
  const source = bundled();
  let cachedData;
  try {
    cachedData = fs.readFileSync(at('latch.bin'));
  } catch {
    // Not compiled yet.
  }
  const script = new vm.Script(`(function (exports, require, module, __filename, __dirname) {${source}\n})`, {
    filename: at('latch.cjs'),
    cachedData,
  });
  script.runInThisContext()(exports, require, module, __filename, __dirname);
  // Made by a run of each command, so that what they use is in it.
  const kept = process.env.ZERO_LATCH_KEEP_CODE;
  if (isMainThread && kept) process.once('exit', () => fs.writeFileSync(at(kept), script.createCachedData()));
}
