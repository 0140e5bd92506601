import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { writeHold } from '../demo/world/hold-writer';
import { openArchive } from '../src/core/archive';
import { listArchive } from '../src/core/catalogue';
import { lineText, startsOf } from '../src/core/catalogue/lines';
import { kindOfCode, START_BYTES, tellKind, type Kind } from '../src/core/kinds';
import { openFileSource } from '../src/platform/node/file-source';
import { nodePrimitives } from '../src/platform/node/primitives';
import { kindRulesOf, readShelf, scriptFor } from '../src/platform/node/script-shelf';

/**
 * How often the kind of a file is told as an independent look tells it (`file --mime-type` and a table), over files that ordinary tools
 * wrote, with right, wrong and no endings, as they are and in archives, stored and deflated: npm run bench:kinds
 */
const EACH = 54;
const work = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-kinds-'));
const made = path.join(work, 'made');
fs.mkdirSync(made);
const say = (text: string): void => void process.stdout.write(`${text}\n`);
let state = 20_261_129;
const chance = (below: number): number => {
  state = (state * 48_271) % 2_147_483_647;
  return state % below;
};
const run = (command: string, args: readonly string[], input?: string | Buffer): Buffer => {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: made, input, maxBuffer: 1 << 28 });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')}: ${stderr.toString().slice(-400)}`);
  return stdout;
};
const ffmpeg = (to: string, ...args: string[]): void => {
  run('ffmpeg', ['-v', 'error', '-y', ...args, to]);
};

const WORDS =
  'lantern fen heron boat bridge reed kettle ferry lamp oar mud ice gull wick odd ibis rope bell'.split(' ');
const words = (count: number): string =>
  Array.from({ length: count }, () => WORDS[chance(WORDS.length)]).join(' ');
const lines = (count: number, line: (i: number) => string, end = '\n'): string =>
  Array.from({ length: count }, (_, i) => line(i)).join(end) + end;

/** Texts as editors leave them; each gives what is in the file. */
const TEXTS: Readonly<Record<string, () => string | Buffer>> = {
  txt: () => lines(5 + chance(40), () => words(4 + chance(9))),
  md: () => `# ${words(3)}\n\n${lines(6, () => `- ${words(6)}`)}`,
  ini: () =>
    lines(4 + chance(9), (i) => (i % 4 === 0 ? `[${words(1)}]` : `${words(1)} = ${chance(900)}`), '\r\n'),
  json: () =>
    JSON.stringify({
      name: words(2),
      items: Array.from({ length: 9 }, () => ({ id: chance(99), title: words(2) })),
    }),
  xml: () =>
    `<?xml version="1.0" encoding="utf-8"?>\n<all>\n${lines(6, () => `  <one id="${chance(99)}">${words(3)}</one>`)}</all>\n`,
  csv: () => lines(12, (i) => `${i},${words(1)},${chance(1000)}`),
  yaml: () => lines(8, () => `${words(1)}: ${chance(100)}`),
  glsl: () =>
    `#version 330\nuniform vec4 tint;\nin vec2 place;\nout vec4 colour;\nvoid main() {\n  colour = tint * ${chance(9)}.0; // ${words(3)}\n}\n`,
  lua: () =>
    `-- ${words(4)}\nlocal ${WORDS[chance(9)]} = ${chance(90)}\nfunction open(door)\n  return door + ${chance(9)}\nend\n`,
  py: () =>
    `#!/usr/bin/env python3\nimport os\n\ndef ${WORDS[chance(9)]}(n):\n    return n * ${chance(90)}\n`,
  sh: () => `#!/bin/sh\n# ${words(4)}\necho "${words(3)}"\n`,
  html: () =>
    `<!DOCTYPE html>\n<html><head><title>${words(2)}</title></head><body><p>${words(9)}</p></body></html>\n`,
  srt: () => lines(6, (i) => `${i + 1}\n00:00:0${i},000 --> 00:00:0${i + 1},000\n${words(4)}\n`),
  utf16: () =>
    Buffer.concat([
      Buffer.from([0xff, 0xfe]),
      Buffer.from(
        lines(8, () => words(5)),
        'utf16le',
      ),
    ]),
  latin1: () =>
    Buffer.from(
      lines(8, () => `${words(3)} f\xfcr die Br\xfccke \xe4 \xf6`),
      'latin1',
    ),
  noend: () => words(9),
};
const seconds = (): string => (0.2 + chance(20) / 10).toFixed(1);
const side = (): string => `${8 + chance(90)}x${8 + chance(90)}`;
const convert = (to: string, ...args: string[]): void => {
  run('convert', ['-size', side(), `gradient:${['red', 'navy', 'teal'][chance(3)]}-white`, ...args, to]);
};
const tone = (): string[] => [
  '-f',
  'lavfi',
  '-i',
  `sine=frequency=${200 + chance(2000)}:duration=${seconds()}`,
];
const film = (): string[] => ['-f', 'lavfi', '-i', `testsrc=size=64x48:rate=10:duration=${seconds()}`];

/** How each type is written, with the kind that people would say it is. */
const TYPES: readonly (readonly [ending: string, kind: Kind, make: (to: string) => void])[] = [
  ['png', 'picture', (to) => convert(to)],
  ['jpg', 'picture', (to) => convert(to)],
  ['gif', 'picture', (to) => convert(to)],
  ['webp', 'picture', (to) => convert(to)],
  ['bmp', 'picture', (to) => convert(to)],
  ['tga', 'picture', (to) => convert(to, '-compress', chance(2) ? 'None' : 'RLE')],
  ['dds', 'picture', (to) => convert(to)],
  ['tif', 'picture', (to) => convert(to)],
  ['psd', 'picture', (to) => convert(to)],
  ['ico', 'picture', (to) => convert(to, '-resize', '32x32!')],
  ['wav', 'sound', (to) => ffmpeg(to, ...tone())],
  ['ogg', 'sound', (to) => ffmpeg(to, ...tone(), '-c:a', 'libvorbis')],
  ['opus', 'sound', (to) => ffmpeg(to, ...tone(), '-c:a', 'libopus')],
  ['flac', 'sound', (to) => ffmpeg(to, ...tone())],
  [
    'mp3',
    'sound',
    (to) => ffmpeg(to, ...tone(), ...(chance(2) ? ['-id3v2_version', '0', '-write_xing', '0'] : [])),
  ],
  ['aif', 'sound', (to) => ffmpeg(to, ...tone(), '-f', 'aiff')],
  ['au', 'sound', (to) => ffmpeg(to, ...tone())],
  ['m4a', 'sound', (to) => ffmpeg(to, ...tone(), '-f', 'ipod')],
  ['aac', 'sound', (to) => ffmpeg(to, ...tone(), '-f', 'adts')],
  ['mp4', 'film', (to) => ffmpeg(to, ...film())],
  ['webm', 'film', (to) => ffmpeg(to, ...film(), '-c:v', 'libvpx')],
  ['mkv', 'film', (to) => ffmpeg(to, ...film())],
  ['avi', 'film', (to) => ffmpeg(to, ...film())],
  ['mpg', 'film', (to) => ffmpeg(to, ...film(), '-r', '25', '-f', 'mpeg')],
  ['ogv', 'film', (to) => ffmpeg(to, ...film(), '-c:v', 'libtheora')],
  ['ivf', 'film', (to) => ffmpeg(to, ...film(), '-c:v', 'libvpx')],
  [
    'zip',
    'archive',
    (to) => (
      fs.writeFileSync(path.join(made, 'in.txt'), words(9)),
      run('zip', ['-q', '-', 'in.txt']),
      void fs.writeFileSync(to, run('zip', ['-q', '-', 'in.txt']))
    ),
  ],
  [
    'tar',
    'archive',
    (to) => (fs.writeFileSync(path.join(made, 'in.txt'), words(9)), void run('tar', ['-cf', to, 'in.txt'])),
  ],
  ['gz', 'archive', (to) => fs.writeFileSync(to, run('gzip', ['-c'], words(60)))],
  ['xz', 'archive', (to) => fs.writeFileSync(to, run('xz', ['-c'], words(60)))],
  ['bz2', 'archive', (to) => fs.writeFileSync(to, run('bzip2', ['-c'], words(60)))],
  ['zst', 'archive', (to) => fs.writeFileSync(to, run('zstd', ['-q', '-c'], words(60)))],
  [
    'obj',
    'model',
    (to) =>
      fs.writeFileSync(
        to,
        lines(9, (i) => (i < 6 ? `v ${chance(9)} ${chance(9)} ${i}` : 'f 1 2 3')),
      ),
  ],
  [
    'ply',
    'model',
    (to) =>
      fs.writeFileSync(
        to,
        `ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nend_header\n${lines(3, (i) => `${i}`)}`,
      ),
  ],
  [
    'bin',
    'data',
    (to) => fs.writeFileSync(to, Buffer.from(Array.from({ length: 400 + chance(2000) }, () => chance(256)))),
  ],
  [
    'tbl',
    'data',
    (to) =>
      fs.writeFileSync(
        to,
        Buffer.from(new Float32Array(Array.from({ length: 90 }, () => chance(1000) / 7)).buffer),
      ),
  ],
  ...Object.entries(TEXTS).map(
    ([ending, text]) => [ending, 'text', (to: string) => fs.writeFileSync(to, text())] as const,
  ),
];

/** What an independent look says; undefined where it says nothing that a kind follows from. */
function kindOfMime(mime: string): Kind | undefined {
  if (/^image\/svg/.test(mime)) return 'text';
  if (/^image\//.test(mime)) return 'picture';
  if (/^audio\//.test(mime)) return 'sound';
  if (/^video\//.test(mime)) return 'film';
  if (/^(text\/|application\/(json|xml|javascript|x-subrip|x-setupscript|x-wine-extension-ini))/.test(mime))
    return 'text';
  if (/^application\/(zip|x-tar|gzip|x-xz|x-bzip2|zstd|x-7z)/.test(mime)) return 'archive';
  if (mime === 'application/ogg') return 'sound';
  return undefined;
}

say(`writing ${TYPES.length} types, ${EACH} files of each ...`);
interface Sample {
  readonly name: string;
  readonly type: string;
  readonly kind: Kind;
}
const samples: Sample[] = [];
/** Endings of other types, for those that are named wrongly. */
const endings = TYPES.map(([ending]) => ending).filter((ending) => !(ending in TEXTS) || ending === 'txt');
for (const [ending, kind, make] of TYPES) {
  // A third each: the right ending, a wrong one, none. Writing a file is slow, so that each is used three times.
  for (let i = 0; i < EACH / 3; i++) {
    const first = path.join(made, `f.${ending in TEXTS ? 'txt' : ending}`);
    fs.rmSync(first, { force: true });
    make(first);
    const bytes = fs.readFileSync(first);
    let wrong = endings[chance(endings.length)]!;
    // A text that is named like a model written as text is one, for all that can be told.
    while (wrong === ending || ['obj', 'ply', 'tga', 'mp3', 'aac', 'mpg'].includes(wrong))
      wrong = endings[chance(endings.length)]!;
    const written =
      ending in TEXTS && !['utf16', 'latin1', 'noend'].includes(ending)
        ? `.${ending}`
        : ending in TEXTS
          ? '.txt'
          : `.${ending}`;
    for (const [how, name] of [
      ['right', written],
      ['wrong', `.${wrong}`],
      ['none', ''],
    ] as const) {
      const full = `${ending}_${i}_${how}${name}`;
      fs.writeFileSync(path.join(work, full), bytes);
      samples.push({ name: full, type: ending, kind });
    }
  }
}
fs.rmSync(made, { recursive: true });

/** A model that is written as a text, and a TGA in runs, are told by their ending alone; without it they are text and data. */
const expected = ({ name, kind, type }: Sample): Kind =>
  type === 'obj' && !name.endsWith('.obj') ? 'text' : kind;

const mimes = new Map(
  spawnSync('file', ['--mime-type', '-b', '--', ...samples.map(({ name }) => name)], {
    cwd: work,
    maxBuffer: 1 << 26,
  })
    .stdout.toString()
    .trim()
    .split('\n')
    .map((mime, i) => [samples[i]!.name, mime.trim()]),
);
const rules = kindRulesOf(readShelf());
const looked = new Map<string, Kind>();
for (const { name } of samples) {
  const source = openFileSource(path.join(work, name), name);
  const bytes = source.read(0, Math.min(START_BYTES, source.length));
  looked.set(name, tellKind(name, { bytes, length: source.length }, rules).kind);
  source.close();
}
report('as they are', looked);
for (const [what, args] of [
  ['in a ZIP, stored', ['-q0']],
  ['in a ZIP, deflated', ['-q9']],
] as const) {
  const zip = path.join(work, 'all.zip');
  fs.rmSync(zip, { force: true });
  spawnSync('zip', [...args, '-@', zip], {
    cwd: work,
    input: samples.map(({ name }) => name).join('\n'),
  });
  listed(what, zip);
}
const hold = path.join(work, 'all.hold');
const key = Buffer.alloc(32, 'lamp');
const inHold = samples.map(({ name }) => ({
  path: name,
  data: () => fs.readFileSync(path.join(work, name)),
}));
writeHold(hold, inHold, { key, roll: true, rank: 1, salt: Buffer.alloc(16, 7) });
listed('keyed and deflated in blocks', hold, new Map([['game', new Uint8Array(key)]]));

/** Lists an archive and reports the kinds that it tells. */
function listed(what: string, file: string, keys = new Map<string, Uint8Array>()): void {
  const source = openFileSource(file);
  const { script } = scriptFor(source, readShelf());
  const archive = openArchive(script, source, { primitives: nodePrimitives, keys });
  const began = performance.now();
  const listing = listArchive(archive, { rules });
  const ms = performance.now() - began;
  const of = { ...listing, starts: startsOf(listing) };
  const kinds = Array.from(
    { length: listing.count },
    (_, row) => [lineText(of, row), kindOfCode(listing.kinds[row]!)] as const,
  );
  report(`${what} (listed in ${ms.toFixed(0)} ms)`, new Map(kinds));
  source.close();
}

function report(what: string, kinds: ReadonlyMap<string, Kind>): void {
  let [right, agrees, judged] = [0, 0, 0];
  const wrong = new Map<string, number>();
  const apart = new Map<string, number>();
  for (const sample of samples) {
    const kind = kinds.get(sample.name);
    if (kind === expected(sample)) right++;
    else {
      const key = `${sample.name.replace(/_\d+_/, ' ')}: ${kind}`;
      wrong.set(key, (wrong.get(key) ?? 0) + 1);
    }
    const independent = kindOfMime(mimes.get(sample.name) ?? '');
    if (!independent) continue;
    judged++;
    if (kind === independent) agrees++;
    else {
      const key = `${sample.type} is ${mimes.get(sample.name)}, here ${kind}`;
      apart.set(key, (apart.get(key) ?? 0) + 1);
    }
  }
  const share = (part: number, all: number): string =>
    `${part} of ${all} (${((100 * part) / all).toFixed(2)} %)`;
  say(
    `${what}: ${share(right, samples.length)} as they were made; ${share(agrees, judged)} as file --mime-type says where that says a kind`,
  );
  const most = (all: ReadonlyMap<string, number>): (readonly [string, number])[] =>
    [...all].sort((a, b) => b[1] - a[1]).slice(0, 12);
  for (const [name, count] of most(wrong)) say(`  ${count} x ${name}`);
  for (const [name, count] of most(apart)) say(`  file(1): ${count} x ${name}`);
}
fs.rmSync(work, { recursive: true, force: true });
