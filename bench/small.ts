import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/**
 * What is fixed, and what middling archives cost, each in turn with the usual tool: npm run bench:small [-- ROUNDS]. Ratios count; seconds
 * swing with the neighbours of the machine.
 */
const rounds = Number(process.argv[2] ?? 5);
const latch = path.resolve('bin/latch');
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-small-'));
const at = (name: string): string => path.join(work, name);
const say = (text: string): void => void process.stdout.write(`${text}\n`);

interface Cost {
  readonly wall: number;
  readonly cpu: number;
}
/** Seconds on the clock and of processors that a command takes, its children included. */
function cost(command: string, args: readonly string[]): Cost {
  const { status, stderr } = spawnSync(
    'bash',
    ['-c', 'TIMEFORMAT="%R %U %S"; time "$@" > /dev/null 2> /dev/null', 'bash', command, ...args],
    { encoding: 'utf8', cwd: work },
  );
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}`);
  const [wall = 0, user = 0, system = 0] = stderr.trim().split(' ').map(Number);
  return { wall, cpu: user + system };
}
const median = (values: number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

function compare(
  what: string,
  aim: string,
  theirs: () => Cost,
  ours: () => Cost,
  before: () => void = () => undefined,
  times = rounds,
): void {
  const [a, b]: Cost[][] = [[], []];
  for (let round = 0; round < times; round++) {
    before();
    a!.push(theirs());
    before();
    b!.push(ours());
  }
  const wall = [a!, b!].map((all) => median(all.map((one) => one.wall))) as [number, number];
  const cpu = [a!, b!].map((all) => median(all.map((one) => one.cpu))) as [number, number];
  say(
    `| ${what} | ${wall[0].toFixed(3)} s, ${cpu[0].toFixed(3)} s | ${wall[1].toFixed(3)} s, ${cpu[1].toFixed(3)} s | **${(wall[1] / wall[0]).toFixed(2)}**, **${(cpu[1] / cpu[0]).toFixed(2)}** | ${aim} |`,
  );
}

/** Numbers by chance, the same each time (Park and Miller, 1988). */
let state = 20_261_129;
const chance = (below: number): number => {
  state = (state * 48_271) % 2_147_483_647;
  return state % below;
};
const noise = (length: number): Buffer => Buffer.from(Array.from({ length }, () => chance(256)));
const words = Array.from({ length: 3000 }, () => noise(2 + chance(7)).toString('hex'));
function body(i: number, length: number): Buffer {
  if (i % 4 === 1) return noise(length);
  if (i % 4 === 2) return Buffer.from(Array.from({ length }, (_, j) => (j * j) >> 5));
  const parts: string[] = [];
  for (let size = 0; size < length;) {
    const word = words[chance(words.length)]!;
    parts.push(word);
    size += word.length;
  }
  return Buffer.from(parts.join(' ')).subarray(0, length);
}

function zipOf(
  name: string,
  count: number,
  length: (i: number) => number,
  level: string,
  make = body,
): string {
  const folder = at(`${name}-made`);
  for (let i = 0; i < count; i++) {
    const inner = path.join(folder, `d${i % 40}`);
    if (i < 40) fs.mkdirSync(inner, { recursive: true });
    fs.writeFileSync(path.join(inner, `f${i}.bin`), make(i, length(i)));
  }
  const file = at(`${name}.zip`);
  spawnSync('zip', [`-qr${level}`, file, '.'], { cwd: folder });
  fs.rmSync(folder, { recursive: true });
  return file;
}

say(
  `Measured on ${new Date().toISOString().slice(0, 10)}: ${os.availableParallelism()} cores, Node ${process.version}, ${rounds} rounds in turn, medians; wall, then processors.\n`,
);
say('| what | baseline | ours | ratio | aim |\n|---|---|---|---|---|');

const nine = zipOf('nine', 3, () => 3000, '0');
cost(latch, ['entries', nine]);
compare(
  'list an archive of 9 KB, against `node -e 0`',
  'at most 2.0 and 2.0',
  () => cost('node', ['-e', '0']),
  () => cost(latch, ['entries', nine]),
);

const middling = zipOf('middling', 1000, () => 15_000 + chance(110_000), '6');
const clean = (): void => {
  for (const name of ['theirs', 'ours']) fs.rmSync(at(name), { recursive: true, force: true });
  spawnSync('sync');
};
compare(
  `extract 1,000 deflated entries, ${(fs.statSync(middling).size / 1e6).toFixed(0)} MB, against \`unzip\``,
  'at most 1.0 and 1.5',
  () => cost('unzip', ['-qo', middling, '-d', at('theirs')]),
  () => cost(latch, ['extract', middling, '--to', at('ours')]),
  clean,
);

const many = zipOf('many', 7000, () => 4000 + chance(9000), '6');
fs.writeFileSync(at('new.bin'), noise(6000));
compare(
  `repack ${(fs.statSync(many).size / 1e6).toFixed(0)} MB of 7,000 entries with one change, against \`cp\` and a bare start`,
  'at most 0.5 s more',
  () => {
    const copy = cost('cp', [many, at('theirs')]);
    const start = cost('node', ['-e', '0']);
    return { wall: copy.wall + start.wall, cpu: copy.cpu + start.cpu };
  },
  () => cost(latch, ['repack', many, '--change', `d1/f1.bin=${at('new.bin')}`, '--to', at('ours')]),
  clean,
);

const members = zipOf('members', 60_000, () => 20, '0');
compare(
  'list 60,000 members of a ZIP, against `unzip -l`',
  'within 1 s',
  () => cost('unzip', ['-l', members]),
  () => cost(latch, ['entries', members]),
);
compare(
  'prove them, against `unzip -t`',
  'within 6 s',
  () => cost('unzip', ['-tq', members]),
  () => cost(latch, ['prove', members]),
  undefined,
  1,
);

const GREAT = 20_000;
const noises = noise(1 << 20);
const great = zipOf(
  'great',
  GREAT,
  () => 105_000,
  '0',
  // Made by the byte, two gigabytes would take minutes.
  (i, length) => noises.subarray((i * 4099) % 900_000, ((i * 4099) % 900_000) + length),
);
compare(
  `repack ${(fs.statSync(great).size / 1e9).toFixed(1)} GB of ${GREAT.toLocaleString('en')} entries with one change, and prove it, against \`cp\``,
  'at most 3.0',
  () => cost('cp', [great, at('theirs')]),
  () => cost(latch, ['repack', great, '--change', `d1/f1.bin=${at('new.bin')}`, '--to', at('ours')]),
  clean,
);
fs.rmSync(great);

const plain = at('plain-made');
for (let i = 0; i < 4096; i++) {
  const inner = path.join(plain, `d${i % 64}`);
  if (i < 64) fs.mkdirSync(inner, { recursive: true });
  fs.writeFileSync(path.join(inner, `f${i}`), Buffer.alloc(256 * 1024, `${i} `));
}
const tar = at('plain.tar');
spawnSync('tar', ['-cf', tar, '-C', plain, ...Array.from({ length: 64 }, (_, i) => `d${i}`)]);
fs.rmSync(plain, { recursive: true });
compare(
  'extract 1 GiB of 4,096 plain files, against `tar -xf`',
  'at most 1.0',
  () => {
    fs.mkdirSync(at('theirs'));
    return cost('tar', ['-xf', tar, '-C', at('theirs')]);
  },
  () => cost(latch, ['extract', tar, '--to', at('ours')]),
  clean,
);
fs.rmSync(work, { recursive: true, force: true });
