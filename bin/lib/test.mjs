// Runs every check in turn and ends with the counts. `bin/test unit browser` runs only those.
import fs from 'node:fs';
import path from 'node:path';
import { buildDemo, buildPages, startApp } from './app.mjs';
import { endChildren, runChild } from './children.mjs';

const root = process.cwd();
const data = path.resolve(process.env.ZERO_LATCH_TEST_DATA ?? `.data/test-${process.pid}`);
const say = (text) => process.stdout.write(`${text}\n`);
const counts = { passed: 0, failed: 0 };
/** Steps that found something, told once more at the end: what is printed last is what is read. */
const failing = [];

/** Ends the application that a step has started. */
let stopApp;

async function run(args, env = {}) {
  const { status } = await runChild(process.execPath, args, {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, ...env },
  });
  return status === 0;
}

/** Checks run beside each other, so what one says comes whole when it is done. */
async function check(args) {
  const { status, stdout, stderr } = await runChild(process.execPath, args, { cwd: root, env: process.env });
  if (status === 0) counts.passed++;
  else {
    counts.failed++;
    failing.push(`${path.basename(args[0])}: ${`${stdout}${stderr}`.trim().slice(-2000)}`);
  }
  return `${stdout}${stderr}`;
}

/** The pages and the demo are built while the unit tests run; what goes wrong with that is told where they are wanted. */
async function buildBeside() {
  if (!isWanted('browser')) return;
  try {
    await buildPages(root, say);
    fs.mkdirSync(data, { recursive: true });
    await buildDemo(root, path.join(data, 'demo'), say);
  } catch {
    // It is built, and fails, once more.
  }
}

async function unit() {
  const built = buildBeside();
  const output = path.join(root, 'test-results', 'unit.json');
  fs.mkdirSync(path.dirname(output), { recursive: true });
  fs.rmSync(output, { force: true });
  const good = await run([
    '--experimental-vm-modules',
    '--no-warnings',
    'node_modules/jest/bin/jest.js',
    '--json',
    `--outputFile=${output}`,
  ]);
  await built;
  const result = fs.existsSync(output) ? JSON.parse(fs.readFileSync(output, 'utf8')) : undefined;
  counts.passed += result?.numPassedTests ?? 0;
  counts.failed += (result?.numFailedTests ?? 0) + (result?.numRuntimeErrorTestSuites ?? 0) || (good ? 0 : 1);
  for (const suite of result?.testResults ?? [])
    if (suite.status === 'failed')
      failing.push(`${path.relative(root, suite.name)}: ${suite.message.trim().slice(0, 2000)}`);
}

async function browser() {
  const logFile = path.join(data, 'app.log');
  fs.mkdirSync(data, { recursive: true });
  const output = fs.openSync(logFile, 'a');
  const app = await startApp({
    ...{ root, data, say, firstPort: 4600, output, isThrowaway: true },
    onStop: (stop) => (stopApp = stop),
  });
  const results = path.join(root, 'test-results', 'browser.json');
  fs.rmSync(results, { force: true });
  const env = {
    ZERO_LATCH_ADDRESS: app.address,
    ZERO_LATCH_SECRET: app.secret,
    ZERO_LATCH_TOOL_SECRET: app.env.ZERO_LATCH_TOOL_SECRET,
    ZERO_LATCH_DEMO: app.demo,
    ZERO_LATCH_STORAGE: app.storage,
    ZERO_LATCH_TEST_DATA: data,
    // For workers that tests start and end by themselves.
    DATABASE_URL: app.env.DATABASE_URL,
    ZERO_LATCH_THREADS: app.env.ZERO_LATCH_THREADS,
    ...(app.cluster && { ZERO_LATCH_CLUSTER: '1' }),
  };
  let good;
  try {
    good = await run(
      [
        'node_modules/@playwright/test/cli.js',
        'test',
        ...process.argv.slice(2).filter((word) => word.startsWith('e2e/') || word.startsWith('-')),
      ],
      env,
    );
  } finally {
    await app.stop();
  }
  const stats = fs.existsSync(results) ? JSON.parse(fs.readFileSync(results, 'utf8')).stats : undefined;
  counts.passed += stats?.expected ?? 0;
  counts.failed += (stats?.unexpected ?? 0) || (good ? 0 : 1);
  if (!good) say(`The application's own log is in ${path.relative(root, logFile)}.`);
}

const STEPS = {
  format: () => check(['node_modules/prettier/bin/prettier.cjs', '--check', '--log-level', 'warn', '.']),
  lint: () => check(['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']),
  types: () => check(['node_modules/typescript/bin/tsc', '--noEmit']),
  rules: () =>
    check([
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      'src',
      'demo',
      '--config',
      '.dependency-cruiser.cjs',
      '--output-type',
      'err',
    ]),
  dead: () => check(['node_modules/knip/bin/knip.js', '--no-progress']),
  unit,
  browser,
};

const named = process.argv.slice(2).filter((word) => word in STEPS);
function isWanted(name) {
  return named.length === 0 || named.includes(name);
}

/** Told to stop, it ends everything that it has started: checks, browser, server, worker and database. */
let isStopped = false;
for (const [signal, code] of [
  ['SIGINT', 130],
  ['SIGTERM', 143],
  ['SIGHUP', 129],
])
  process.on(signal, () => {
    if (isStopped) return;
    isStopped = true;
    say(`\nStopping (${signal}) ...`);
    void Promise.allSettled([endChildren(), stopApp?.()]).then(() => {
      fs.rmSync(data, { recursive: true, force: true });
      process.exit(code);
    });
  });

async function take(name) {
  if (!isWanted(name)) return;
  const isBeside = LANES.flat().includes(name);
  if (!isBeside) say(`\n== ${name}`);
  const began = Date.now();
  let told;
  try {
    told = await STEPS[name]();
  } catch (error) {
    if (isStopped) await new Promise(() => undefined);
    counts.failed++;
    told = error instanceof Error ? error.message : String(error);
    failing.push(name);
  }
  if (isBeside) say(`\n== ${name}`);
  if (told) say(told.trim());
  say(`   ${name}: ${((Date.now() - began) / 1000).toFixed(0)} s`);
}

/** Each of these works on one core; lint takes as long as the others together. */
const LANES = [['lint'], ['types', 'format', 'rules', 'dead']];
await Promise.all(
  LANES.map(async (lane) => {
    for (const name of lane) await take(name);
  }),
);
for (const name of ['unit', 'browser']) await take(name);
if (counts.failed === 0) fs.rmSync(data, { recursive: true, force: true });
if (failing.length > 0) say(`\n== what failed\n${failing.join('\n')}`);
say(`\n${counts.passed} passed, ${counts.failed} failed`);
process.exit(counts.failed === 0 ? 0 : 1);
