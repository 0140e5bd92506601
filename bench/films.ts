// Films against the tools beside them: a large one taken apart and rebuilt against `cp`, and one coded as a job against ffmpeg with the same words.
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { GAME_KEY } from '../demo/world/lanternfen/program';
import { writeHold } from '../demo/world/hold-writer';
import { ivfPieces, oggPieces, writeSpool, type Track } from '../demo/world/spool-writer';
import { openArchive } from '../src/core/archive';
import { refOfSpan } from '../src/core/bytes';
import { editEntries, newPieces, planArchive } from '../src/core/mod';
import { parseScript } from '../src/core/script';
import { FilmWish, pictureArguments } from '../src/media/film/core/film-wish';
import { encode } from '../src/media/film/node/encode';
import { INPUT_SAFELY } from '../src/media/film/node/run-ffmpeg';
import { serveBytes } from '../src/platform/node/byte-server';
import { openFileSource } from '../src/platform/node/file-source';
import { nodePrimitives } from '../src/platform/node/primitives';
import { stagePlan } from '../src/platform/node/write-plan';

/** Mebibytes of the large film. */
const LARGE = Number(process.env.FILM_MB ?? 1024);
const RUNS = 3;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-films-'));
const file = (name: string): string => path.join(folder, name);
const say = (line: string): void => void process.stdout.write(`${line}\n`);
const ffmpeg = (args: readonly string[]): void => void execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);

async function seconds(work: () => unknown): Promise<number> {
  const began = performance.now();
  await work();
  return (performance.now() - began) / 1000;
}
/** The middle of several runs. */
async function middle(work: () => unknown): Promise<number> {
  const all: number[] = [];
  for (let i = 0; i < RUNS; i++) all.push(await seconds(work));
  return all.sort((a, b) => a - b)[RUNS >> 1]!;
}

const script = parseScript(fs.readFileSync('scripts/formats/spool-peatfire.yaml', 'utf8'));
const options = { primitives: nodePrimitives, keys: new Map([['game', new Uint8Array(GAME_KEY)]]) };

try {
  ffmpeg([
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=640x360:rate=24:duration=10',
    '-c:v',
    'libvpx',
    '-deadline',
    'realtime',
    '-b:v',
    '3M',
    file('p.ivf'),
  ]);
  ffmpeg(['-f', 'lavfi', '-i', 'sine=duration=10', '-ar', '48000', '-c:a', 'libopus', file('p.ogg')]);
  const pieces = ivfPieces(fs.readFileSync(file('p.ivf')), 24);
  // Pictures are made larger, so that a film of a few minutes has as many bytes as one of hours.
  const count = 24 * 60 * 6;
  const padding = Buffer.alloc(Math.ceil((LARGE * 2 ** 20) / count), 7);
  const picture: Track = {
    ...{ kind: 'picture', tongue: '' },
    pieces: Array.from({ length: count }, (_, i) => ({
      time: Math.round((1000 * i) / 24),
      data: i === 0 ? pieces[0]!.data : padding,
    })),
  };
  const sound: Track = { kind: 'sound', tongue: 'en', pieces: oggPieces(fs.readFileSync(file('p.ogg'))) };
  fs.writeFileSync(file('large.spool'), writeSpool([picture, sound], GAME_KEY));
  picture.pieces.length = 0;
  const size = fs.statSync(file('large.spool')).size;
  const copy = await middle(() => execFileSync('cp', [file('large.spool'), file('copy')]));
  const key = Buffer.from(GAME_KEY).toString('hex');
  let peak = '';
  const apart = await middle(() => {
    fs.rmSync(file('out'), { recursive: true, force: true });
    execFileSync('bin/latch', ['extract', file('large.spool'), '--key', `game=${key}`, '--to', file('out')], {
      env: {
        ...process.env,
        NODE_OPTIONS: `--import ${path.resolve('bench/peak-memory.mjs')}`,
        PEAK_MEMORY_FILE: file('peak'),
      },
    });
    peak = fs.existsSync(file('peak')) ? fs.readFileSync(file('peak'), 'utf8') : '';
  });
  say(
    `${(size / 2 ** 20).toFixed(0)} MiB spool of ${count} pictures taken apart: ${apart.toFixed(2)} s, cp ${copy.toFixed(2)} s, ratio ${(apart / copy).toFixed(2)}${peak && `, at most ${(Number(peak) / 2 ** 20).toFixed(0)} MiB of memory`}`,
  );

  const built = await middle(() => {
    const source = openFileSource(file('large.spool'), 'large.spool');
    const original = openArchive(script, source, options);
    const given = openFileSource(file('p.ogg'), 'p.ogg');
    const changes = new Map([[1, refOfSpan(given, 0, given.length)]]);
    const made = editEntries(openArchive(script, source, options), { pieces: newPieces(original, changes) });
    const plan = planArchive(made.archive, changes, { edits: made.marks });
    stagePlan(plan, () => file('built.spool'), undefined, false).keep();
    plan.discard();
    fs.rmSync(file('built.spool'));
    given.close();
    source.close();
  });
  say(
    `one sound of it replaced and interleaved anew: ${built.toFixed(2)} s, ratio to cp ${(built / copy).toFixed(2)}`,
  );
  for (const name of ['large.spool', 'copy', 'out']) fs.rmSync(file(name), { recursive: true, force: true });

  // A film in an archive of two gibibytes, its pictures replaced, proved and written.
  const hold = file('large.hold');
  const other = Buffer.alloc(8 << 20, 3);
  const small: Track[] = [
    { kind: 'picture', tongue: '', pieces },
    { ...sound, pieces: oggPieces(fs.readFileSync(file('p.ogg'))) },
  ];
  const others = Array.from({ length: Math.round((2 * LARGE) / 8) }, (_, i) => ({
    path: `others/${i}.bin`,
    data: () => other,
    loose: true,
  }));
  writeHold(
    hold,
    [...others, { path: 'films/a.spool', data: () => writeSpool(small, GAME_KEY), loose: true }],
    {
      ...{ key: Buffer.from(GAME_KEY), roll: true, salt: Buffer.alloc(16, 1), rank: 1 },
    },
  );
  ffmpeg([
    ...['-f', 'lavfi', '-i', 'mandelbrot=size=640x360:rate=24,trim=duration=12', '-c:v', 'libvpx'],
    ...['-deadline', 'realtime', '-b:v', '3M', file('other.ivf')],
  ]);
  const copyHold = await middle(() => execFileSync('cp', [hold, file('copy')]));
  const within = await middle(() => {
    fs.rmSync(file('built.hold'), { force: true });
    execFileSync('bin/latch', [
      ...['repack', `${hold}//films/a.spool`, '--key', `game=${key}`, '--to', file('built.hold')],
      ...['--change', `picture.ivf=${file('other.ivf')}`],
    ]);
  });
  say(
    `a film in a hold of ${(fs.statSync(hold).size / 2 ** 20).toFixed(0)} MiB replaced and proved: ${within.toFixed(2)} s, cp ${copyHold.toFixed(2)} s, ratio ${(within / copyHold).toFixed(2)}`,
  );
  for (const name of ['large.hold', 'built.hold', 'copy']) fs.rmSync(file(name), { force: true });

  ffmpeg([
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=1280x720:rate=30:duration=20',
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    file('given.mp4'),
  ]);
  const wish = FilmWish.parse({
    blob: '0'.repeat(64),
    name: 'given.mp4',
    width: 640,
    height: 360,
    rate: 24,
    bitRate: 800_000,
    sounds: [],
  });
  const words = [
    ...pictureArguments(wish, { codec: 'vp8', pixels: 'yuv420p', keySeconds: undefined }),
    '-an',
    '-f',
    'ivf',
  ];
  const bare = await middle(() => ffmpeg(['-i', file('given.mp4'), ...words, file('bare.ivf')]));
  const source = openFileSource(file('given.mp4'), 'given.mp4');
  const ours = await middle(async () => {
    const served = await serveBytes([refOfSpan(source, 0, source.length)]);
    const hooks = { progress: () => undefined, check: () => undefined };
    await encode(
      [...INPUT_SAFELY, '-f', 'mov', '-i', served.urls[0]!, ...words, '-y', file('ours.ivf')],
      hooks,
    );
    served.close();
  });
  source.close();
  say(
    `20 s of 720p coded as VP8: ${ours.toFixed(2)} s, bare ffmpeg ${bare.toFixed(2)} s, ratio ${(ours / bare).toFixed(2)}`,
  );
} finally {
  fs.rmSync(folder, { recursive: true, force: true });
}
