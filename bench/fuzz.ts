import { fork, spawnSync, type ChildProcess } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { exerciseBytes } from '@/platform/node/testing/exercise-bytes';
import { readShelf, shippedScriptsFolder } from '@/platform/node/script-shelf';

/**
 * Gives everything that reads strangers' bytes damaged files of every kind, and keeps those that bring out anything but an error in words:
 * npm run fuzz -- --minutes N [--seed S] [--tracks]. What is kept in src/platform/node/testing/corpus is tried by the unit tests ever after.
 */
/** What a child says of an input; none for one that was taken or refused in words. */
interface Told {
  readonly taken: number;
  readonly fault: string | undefined;
}

if (process.send) {
  const shelf = readShelf(shippedScriptsFolder());
  const withTracks = process.argv.includes('--tracks');
  process.on('message', (bytes: Uint8Array) => {
    void exerciseBytes(bytes, shelf, withTracks).then(
      (taken) => process.send!({ taken, fault: undefined } satisfies Told),
      ({ message, stack = '' }: Error) =>
        process.send!({ taken: 0, fault: `${message} ${/at (.*)/.exec(stack)?.[1] ?? ''}` } satisfies Told),
    );
  });
  await new Promise(() => undefined);
}

const numberOf = (name: string, otherwise: number): number => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? otherwise : Number(process.argv[at + 1]);
};
const minutes = numberOf('minutes', 1);
let state = numberOf('seed', Date.now() % 2 ** 31) || 1;
const say = (text: string): void => void process.stdout.write(`${text}\n`);
say(`seed ${state}`);
/** Numbers by chance that a seed gives again (Park and Miller, 1988). */
const chance = (below: number): number => {
  state = (state * 48_271) % 2_147_483_647;
  return state % below;
};
/** One input that takes longer stands in the way of others; one that takes much longer does not come to an end. */
const SLOWEST_MS = 8000;
const ENDLESS_MS = 20_000;
const MOST_SEED_BYTES = 60_000;
const corpus = path.resolve('src/platform/node/testing/corpus');

const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-fuzz-'));
const at = (name: string): string => path.join(work, name);
const tool = (command: string, args: string[]): void => {
  const { status, stderr, error } = spawnSync(command, args, { cwd: work, encoding: 'utf8' });
  if (status !== 0) say(`without ${args.at(-1)}: ${error?.message ?? stderr.split('\n')[0]}`);
};

/** Small files of every kind, by ordinary tools, and what the demo game is made of. */
function seeds(): Map<string, Uint8Array> {
  fs.writeFileSync(at('a.txt'), 'Odd Marren rows home.\n'.repeat(40));
  fs.writeFileSync(at('b.bin'), Buffer.from(Array.from({ length: 900 }, (_, i) => (i * i) >> 3)));
  tool('zip', ['-q', 'a.zip', 'a.txt', 'b.bin']);
  tool('zip', ['-q0', 'stored.zip', 'a.txt', 'b.bin']);
  tool('tar', ['-cf', 'a.tar', 'a.txt', 'b.bin']);
  tool('ar', ['rc', 'a.ar', 'a.txt', 'b.bin']);
  for (const [packer, ending] of [
    ['gzip', 'gz'],
    ['bzip2', 'bz2'],
    ['xz', 'xz'],
    ['zstd', 'zst'],
  ] as const)
    fs.writeFileSync(at(`a.tar.${ending}`), spawnSync(packer, ['-c', 'a.tar'], { cwd: work }).stdout);
  fs.writeFileSync(
    at('a.cpio'),
    spawnSync('cpio', ['-o', '-H', 'newc'], { cwd: work, input: 'a.txt\nb.bin\n' }).stdout,
  );
  const sine = ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=duration=0.2'];
  for (const name of ['a.wav', 'a.flac', 'a.ogg', 'a.mp3', 'a.m4a']) tool('ffmpeg', [...sine, name]);
  tool('ffmpeg', [...sine, '-c:a', 'libopus', 'opus.ogg']);
  tool('ffmpeg', [...sine, '-c:a', 'adpcm_ima_wav', 'adpcm.wav']);
  const film = ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc=duration=0.3:size=64x48:rate=10'];
  for (const name of ['a.mp4', 'a.webm', 'a.mkv', 'a.gif']) tool('ffmpeg', [...film, name]);
  for (const name of ['a.png', 'a.jpg', 'a.bmp', 'a.tga', 'a.tiff', 'a.webp'])
    tool('ffmpeg', [...film, '-frames:v', '1', name]);
  fs.writeFileSync(at('a.obj'), 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n');
  const demo = spawnSync(process.execPath, ['--import', 'tsx', 'demo/world/build.ts', at('demo')], {
    encoding: 'utf8',
  });
  if (demo.status !== 0) say(`without the demo: ${demo.stderr.split('\n')[0]}`);
  const found = new Map<string, Uint8Array>();
  for (const item of fs.readdirSync(work, { recursive: true, withFileTypes: true })) {
    if (!item.isFile()) continue;
    const file = path.join(item.parentPath, item.name);
    const bytes = new Uint8Array(fs.readFileSync(file));
    found.set(path.relative(work, file), bytes.subarray(0, MOST_SEED_BYTES));
  }
  return found;
}

const EDGES = [0, 1, 0x7f, 0x80, 0xfe, 0xff];

/** Bytes changed, stretches cut out, doubled, moved or set, whole numbers at the edges, parts of another file put in. */
function mutated(bytes: Uint8Array, other: Uint8Array): Uint8Array {
  let out = Buffer.from(bytes);
  for (let i = 1 + chance(4); i > 0; i--) {
    // Most of what is read first stands at the beginning or the end.
    const near = chance(3);
    const place = chance(Math.max(1, near === 2 ? out.length : Math.min(200, out.length)));
    const from = near === 1 ? Math.max(0, out.length - 1 - place) : place;
    const length = 1 + chance(16);
    switch (chance(8)) {
      case 0:
        out = Buffer.concat([out.subarray(0, from), out.subarray(from + length)]);
        break;
      case 1:
        out = Buffer.concat([out.subarray(0, from + length), out.subarray(from)]);
        break;
      case 2:
        out.fill(EDGES[chance(EDGES.length)]!, from, Math.min(out.length, from + length));
        break;
      case 3:
        out = Buffer.from(out.subarray(0, from));
        break;
      case 4:
        if (from + 4 <= out.length)
          out.writeUInt32LE([0x7fffffff, 0xffffffff, out.length, 0x80000000][chance(4)]!, from);
        break;
      case 5: {
        const start = chance(Math.max(1, other.length));
        out = Buffer.concat([
          out.subarray(0, from),
          other.subarray(start, start + length * 8),
          out.subarray(from),
        ]);
        break;
      }
      default:
        if (out.length > 0) out[from] = chance(256);
    }
  }
  return new Uint8Array(out);
}

/** Inputs are read in a process of their own, which can be ended when it does not come to an end. */
let child: ChildProcess | undefined;
function exercise(bytes: Uint8Array): Promise<Told> {
  child ??= fork(import.meta.filename, process.argv.slice(2), {
    execArgv: ['--import', 'tsx'],
    serialization: 'advanced',
  });
  const one = child;
  return new Promise((resolve) => {
    const end = (told: Told): void => {
      clearTimeout(late);
      one.removeAllListeners();
      resolve(told);
    };
    const late = setTimeout(() => {
      child = undefined;
      end({ taken: 0, fault: `does not come to an end within ${ENDLESS_MS / 1000} s` });
      one.kill('SIGKILL');
    }, ENDLESS_MS);
    one.once('message', (told: Told) => end(told));
    one.once('exit', (code, signal) => {
      child = undefined;
      end({ taken: 0, fault: `ends the process (${signal ?? code})` });
    });
    one.send(bytes);
  });
}

const all = seeds();
const names = [...all.keys()];
say(`${names.length} files to begin with`);
const until = Date.now() + minutes * 60_000;
const found = new Map<string, number>();
let [tried, accepted, saidAt] = [0, 0, Date.now()];
fs.mkdirSync(corpus, { recursive: true });
while (Date.now() < until) {
  const name = names[chance(names.length)]!;
  const bytes = mutated(all.get(name)!, all.get(names[chance(names.length)]!)!);
  const began = Date.now();
  const told = await exercise(bytes);
  accepted += told.taken;
  const ms = Date.now() - began;
  const what = told.fault ?? (ms > SLOWEST_MS ? `took ${ms} ms` : undefined);
  tried++;
  if (what !== undefined) {
    const key = what.replace(/\d+/g, '#').slice(0, 160);
    found.set(key, (found.get(key) ?? 0) + 1);
    if (found.get(key) === 1) {
      const kept = `${createHash('sha1').update(bytes).digest('hex').slice(0, 12)}-${path.basename(name)}`;
      fs.writeFileSync(path.join(corpus, kept), bytes);
      say(`FOUND ${kept}: ${what}`);
    }
  }
  if (Date.now() - saidAt > 30_000) {
    saidAt = Date.now();
    say(`${tried} inputs, ${found.size} kinds of faults`);
  }
}
child?.kill();
fs.rmSync(work, { recursive: true, force: true });
say(`${tried} inputs in ${minutes} min, taken ${accepted} times, ${found.size} kinds of faults`);
process.exit(found.size > 0 ? 1 : 0);
