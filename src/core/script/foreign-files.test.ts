import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { nodePrimitives } from '@/platform/node/primitives';
import { readScriptFile } from '@/platform/node/script-shelf';
import { openArchive, type Archive } from '../archive';
import { collect, FormatError, memorySource, refOfBytes } from '../bytes';
import { planArchive, proveArchive } from '../mod';
import { emitted, failure } from '../testing/holds';

/**
 * Files of shapes that the application knows nothing of, made by ordinary programs, opened by scripts that were written
 * from their descriptions, changed, and given back to a program that reads them.
 */
const options = { primitives: nodePrimitives };
const LINES = Array.from({ length: 900 }, (_, i) => `line ${i}\n`).join('');
const NOISE = Buffer.from(Array.from({ length: 5001 }, (_, i) => (i * i * 31 + (i >> 3)) & 0xff));
const SHORT = Buffer.from('A lantern in the reeds, and of an odd length.');
const LONG = Buffer.from(LINES.repeat(2));

let folder: string;
const at = (name: string): string => path.join(folder, name);
const run = (command: string, args: string[], input?: string | Buffer): Buffer =>
  execFileSync(command, args, { cwd: folder, input, stdio: ['pipe', 'pipe', 'ignore'] });
const tree = (): string[] => run('find', ['in', '-type', 'f']).toString().trim().split('\n').sort();

interface Subject {
  readonly script: string;
  readonly file: string;
  make(): void;
  /** The entry that is changed, and what to. */
  readonly entry: string;
  readonly content: Buffer;
  /** What another program finds in the changed file. */
  read(file: string): Buffer;
}

const foreign = (name: string): string => `src/core/testing/foreign/${name}.yaml`;
const shipped = (name: string): string => `scripts/formats/${name}.yaml`;

const CATALOGUE = `msgid ""
msgstr "Content-Type: text/plain; charset=UTF-8\\n"

msgid "boat"
msgstr "Kahn"

msgid "lamp"
msgstr "Leuchte"

msgid "reed"
msgid_plural "reeds"
msgstr[0] "Schilf"
msgstr[1] "Schilfe"
`;

function extractCabinet(file: string): Buffer {
  run('cabextract', ['-q', '-d', 'cab-out', file]);
  return fs.readFileSync(at('cab-out/in/lines.txt'));
}

function film(name: string, ...codecs: string[]): void {
  const sources = ['testsrc=d=1:s=64x64:r=10', 'sine=d=1'].flatMap((of) => ['-f', 'lavfi', '-i', of]);
  run('ffmpeg', ['-v', 'error', '-y', ...sources, ...codecs, name]);
}

/** A stream of hashes of every decoded frame. */
const played = (file: string): Buffer => run('ffmpeg', ['-v', 'error', '-i', file, '-f', 'framemd5', '-']);

const subjects: Subject[] = [
  {
    script: foreign('romfs'),
    file: 'tree.romfs',
    make: () => void run('genromfs', ['-d', 'in', '-f', 'tree.romfs', '-V', 'reeds']),
    entry: 'deep/noise.bin',
    content: SHORT,
    // No program of an ordinary user reads it back, so it is read by its description.
    read(file) {
      const bytes = fs.readFileSync(at(file));
      const words = bytes.subarray(0, 512);
      let sum = 0;
      for (let i = 0; i < words.length; i += 4) sum = (sum + words.readUInt32BE(i)) >>> 0;
      expect(sum).toBe(0);
      const name = bytes.indexOf('noise.bin');
      return bytes.subarray(name + 16, name + 16 + bytes.readUInt32BE(name - 8));
    },
  },
  {
    script: foreign('catalogue'),
    file: 'words.mo',
    make: () => void run('msgfmt', ['-o', 'words.mo', '-'], CATALOGUE),
    entry: 'lamp.txt',
    content: SHORT,
    read: (file) =>
      Buffer.from(/msgid "lamp"\nmsgstr "(.*)"/.exec(run('msgunfmt', [file]).toString())?.[1] ?? 'none'),
  },
  {
    script: foreign('constant-database'),
    file: 'facts.cdb',
    make: () =>
      void run('cdb', ['-c', 'facts.cdb', '-'], '+3,5:one->Hello\n+3,5:two->World\n+5,4:three->Reed\n\n'),
    entry: 'two.txt',
    content: SHORT,
    read: (file) => run('cdb', ['-q', file, 'two']),
  },
  {
    script: foreign('cabinet'),
    file: 'tree.cab',
    make: () => void run('gcab', ['-c', 'tree.cab', ...tree()]),
    entry: 'in/lines.txt',
    content: SHORT,
    read: extractCabinet,
  },
  {
    script: foreign('icon'),
    file: 'boat.ico',
    make() {
      for (const size of ['16', '32'])
        run('ffmpeg', [
          '-v',
          'error',
          '-y',
          '-f',
          'lavfi',
          '-i',
          `color=red:s=${size}x${size}`,
          '-frames:v',
          '1',
          `${size}.png`,
        ]);
      run('icotool', ['-c', '-o', 'boat.ico', '-r', '16.png', '-r', '32.png']);
      run('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        'testsrc=s=16x16',
        '-frames:v',
        '1',
        'new.png',
      ]);
    },
    entry: '16x16.png',
    get content() {
      return fs.readFileSync(at('new.png'));
    },
    read(file) {
      // It writes the PNG anew, so what comes out is brought into one form.
      run('icotool', ['-x', '--index=1', '-o', 'icon-out.png', file]);
      const raw = (name: string): Buffer =>
        run('ffmpeg', ['-v', 'error', '-i', name, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-']);
      expect(raw('icon-out.png').equals(raw('new.png'))).toBe(true);
      return fs.readFileSync(at('new.png'));
    },
  },
  {
    script: foreign('web-font'),
    file: 'text.woff',
    make: () => fs.copyFileSync(fontFile(), at('text.woff')),
    entry: 'name.tbl',
    content: LONG,
    read(file) {
      const font = run('woff2sfnt', [file]);
      const rows = Array.from({ length: font.readUInt16BE(4) }, (_, i) => 12 + 16 * i);
      const row = rows.find((from) => font.toString('latin1', from, from + 4) === 'name')!;
      return font.subarray(
        font.readUInt32BE(row + 8),
        font.readUInt32BE(row + 8) + font.readUInt32BE(row + 12),
      );
    },
  },
  {
    script: foreign('font'),
    file: 'text.ttf',
    make: () => fs.writeFileSync(at('text.ttf'), run('woff2sfnt', [fontFile()])),
    entry: 'name.tbl',
    content: SHORT,
    read(file) {
      // All words of a font add up to this number where every checksum in it is right.
      const bytes = fs.readFileSync(at(file));
      let sum = 0;
      for (let i = 0; i + 4 <= bytes.length; i += 4) sum = (sum + bytes.readUInt32BE(i)) >>> 0;
      expect(sum).toBe(0xb1b0afba);
      // This one says so when a table's own checksum is wrong.
      run('sfnt2woff', [file]);
      const font = run('woff2sfnt', [file.replace('.ttf', '.woff')]);
      return font.subarray(font.indexOf(SHORT), font.indexOf(SHORT) + SHORT.length);
    },
  },
  {
    script: foreign('boxes'),
    file: 'film.mp4',
    // The table of places stands before the sound and picture, which move.
    make: () => film('film.mp4', '-c:v', 'mpeg4', '-c:a', 'aac', '-movflags', '+faststart'),
    entry: 'free',
    content: SHORT,
    read(file) {
      expect(played(file).equals(played('film.mp4'))).toBe(true);
      const bytes = fs.readFileSync(at(file));
      return bytes.subarray(bytes.indexOf('free') + 4, bytes.indexOf('free') + 4 + SHORT.length);
    },
  },
  {
    script: foreign('elements'),
    file: 'film.mkv',
    make: () => film('film.mkv', '-c:v', 'mpeg4', '-c:a', 'flac'),
    // Room that nothing uses, before the sound and picture, in an element whose size is a number of varying length.
    entry: 'ec',
    content: SHORT,
    read(file) {
      expect(played(file).equals(played('film.mkv'))).toBe(true);
      const bytes = fs.readFileSync(at(file));
      return bytes.subarray(bytes.indexOf(SHORT), bytes.indexOf(SHORT) + SHORT.length);
    },
  },
  {
    script: foreign('pages'),
    file: 'sound.ogg',
    make: () => film('sound.ogg', '-c:v', 'libtheora', '-c:a', 'libvorbis'),
    entry: 'number 0',
    get content() {
      const archive = openFile(foreign('pages'), 'sound.ogg');
      return Buffer.from(collect(archive.plain(archive.entries[0]!)));
    },
    read(file) {
      expect(played(file).equals(played('sound.ogg'))).toBe(true);
      const archive = openFile(foreign('pages'), file);
      return Buffer.from(collect(archive.plain(archive.entries[0]!)));
    },
  },
  {
    script: shipped('cpio'),
    file: 'new.cpio',
    make: () => fs.writeFileSync(at('new.cpio'), run('cpio', ['-o', '-H', 'newc'], tree().join('\n'))),
    entry: 'in/lines.txt',
    content: SHORT,
    read: (file) => run('cpio', ['-i', '--to-stdout', 'in/lines.txt'], fs.readFileSync(at(file))),
  },
  {
    script: shipped('cpio'),
    file: 'sums.cpio',
    make: () => fs.writeFileSync(at('sums.cpio'), run('cpio', ['-o', '-H', 'crc'], tree().join('\n'))),
    entry: 'in/deep/noise.bin',
    content: LONG,
    read: (file) => run('cpio', ['-i', '--to-stdout', 'in/deep/noise.bin'], fs.readFileSync(at(file))),
  },
  {
    script: foreign('squeezed'),
    file: 'lines.txt_',
    make() {
      fs.copyFileSync(at('in/lines.txt'), at('lines.txt'));
      run('mscompress', ['lines.txt']);
    },
    entry: 'lines',
    content: LONG,
    read(file) {
      // As small as the program that made it does it, within a tenth.
      fs.writeFileSync(at('long.txt'), LONG);
      run('mscompress', ['long.txt']);
      expect(fs.statSync(at(file)).size).toBeLessThan(fs.statSync(at('long.txt_')).size * 1.1);
      fs.copyFileSync(at(file), at('out.tx_'));
      run('msexpand', ['out.tx_']);
      return fs.readFileSync(at('out.tx'));
    },
  },
  {
    script: shipped('gzip'),
    file: 'lines.txt.gz',
    make: () => fs.writeFileSync(at('lines.txt.gz'), run('gzip', ['-c', 'in/lines.txt'])),
    entry: 'lines.txt',
    content: LONG,
    read: (file) => run('gzip', ['-dc', file]),
  },
  ...(
    [
      ['xz', 'xz', '.xz'],
      ['zstandard', 'zstd', '.zst'],
      ['bzip2', 'bzip2', '.bz2'],
    ] as const
  ).map(([name, command, ending]) => ({
    script: shipped(name),
    file: `packed.txt${ending}`,
    make: () => fs.writeFileSync(at(`packed.txt${ending}`), run(command, ['-q', '-c', 'in/lines.txt'])),
    entry: 'packed.txt',
    content: LONG,
    read: (file: string) => run(command, ['-q', '-dc', file]),
  })),
  {
    script: shipped('dds'),
    file: 'jetty.dds',
    make() {
      run('ffmpeg', [
        '-v',
        'error',
        '-y',
        '-f',
        'lavfi',
        '-i',
        'testsrc=s=64x32',
        '-frames:v',
        '1',
        'jetty.png',
      ]);
      run('convert-im6.q16', [
        'jetty.png',
        '-define',
        'dds:compression=dxt5',
        '-define',
        'dds:mipmaps=3',
        'jetty.dds',
      ]);
    },
    entry: 'number 0',
    // Blocks of one colour, of the same length.
    get content() {
      const archive = openFile(shipped('dds'), 'jetty.dds');
      const { length } = collect(archive.plain(archive.entries[0]!));
      const block = Buffer.from('ffff000000000000e007e00700000000', 'hex');
      return Buffer.concat(Array.from({ length: length / 16 }, () => block));
    },
    read(file) {
      const pixel = run('convert-im6.q16', [`${file}[0]`, '-crop', '1x1+5+5', '-depth', '8', 'rgba:-']);
      expect([...pixel.subarray(0, 4)]).toEqual([0, 255, 0, 255]);
      const archive = openFile(shipped('dds'), file);
      return Buffer.from(collect(archive.plain(archive.entries[0]!)));
    },
  },
  {
    script: shipped('gltf-binary'),
    file: 'roof.glb',
    make() {
      fs.writeFileSync(at('roof.obj'), 'v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 0 0 1\nf 1//1 2//1 3//1\n');
      run('assimp', ['export', 'roof.obj', 'roof.glb', '-fglb2']);
    },
    entry: 'number 1',
    /** The same triangle, twice as large. */
    get content() {
      const archive = openFile(shipped('gltf-binary'), 'roof.glb');
      const bytes = Buffer.from(collect(archive.plain(archive.entries[1]!)));
      for (let i = 0; i + 4 <= bytes.length; i += 4) if (bytes.readFloatLE(i) === 1) bytes.writeFloatLE(2, i);
      return bytes;
    },
    read(file) {
      expect(run('assimp', ['info', file]).toString()).toMatch(/Vertices:\s+3/);
      const archive = openFile(shipped('gltf-binary'), file);
      return Buffer.from(collect(archive.plain(archive.entries[1]!)));
    },
  },
];

/** A font that ships with the application, in the older of the two packed forms. */
const fontFile = (): string => {
  const files = path.resolve('node_modules/@fontsource/atkinson-hyperlegible-next/files');
  return path.join(
    files,
    fs.readdirSync(files).find((name) => name.endsWith('latin-400-normal.woff'))!,
  );
};

function openFile(script: string, file: string): Archive {
  return openArchive(
    readScriptFile(script),
    memorySource(new Uint8Array(fs.readFileSync(at(file))), file),
    options,
  );
}

const numberOf = (archive: Archive, entry: string): number =>
  entry.startsWith('number ')
    ? Number(entry.slice(7))
    : archive.entries.findIndex(({ path: own }) => own === entry);

beforeAll(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-foreign-'));
  fs.mkdirSync(at('in/deep'), { recursive: true });
  fs.writeFileSync(at('in/lines.txt'), LINES);
  fs.writeFileSync(at('in/one.txt'), 'one');
  fs.writeFileSync(at('in/deep/noise.bin'), NOISE);
  for (const { make } of subjects) make();
});
afterAll(() => fs.rmSync(folder, { recursive: true }));

describe.each(subjects.map((subject): [string, Subject] => [subject.file, subject]))(
  '%s',
  (file, subject) => {
    test('the proof holds, and nothing in it is claimed twice', () => {
      const archive = openFile(subject.script, file);
      expect(archive.coverage.overlaps).toEqual([]);
      expect(proveArchive(archive, options)).toMatchObject({ holds: true });
    });

    test('another program reads the changed entry, and the result proves itself', () => {
      const archive = openFile(subject.script, file);
      const index = numberOf(archive, subject.entry);
      const { content } = subject;
      const plan = planArchive(archive, new Map([[index, refOfBytes(new Uint8Array(content))]]));
      const changed = `changed-${path.basename(file)}`;
      fs.writeFileSync(at(changed), emitted(plan));
      expect(subject.read(changed).equals(content)).toBe(true);
      const reopened = openFile(subject.script, changed);
      expect(Buffer.from(collect(reopened.plain(reopened.entries[index]!))).equals(content)).toBe(true);
      expect(proveArchive(reopened, options)).toMatchObject({ holds: true });
    });

    test('cut short, it says where it broke or opens to what is whole', () => {
      const bytes = new Uint8Array(fs.readFileSync(at(file)));
      const script = readScriptFile(subject.script);
      for (let i = 1; i <= 20; i++) {
        const cut = bytes.subarray(0, Math.floor((bytes.length * i) / 21));
        try {
          openArchive(script, memorySource(cut, file), options);
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
          expect(
            (error as FormatError).facts.byteOffset ?? (error as FormatError).facts.fieldPath,
          ).toBeDefined();
        }
      }
    });
  },
);

test('a cabinet whose sum is wrong is refused with its place', () => {
  const bytes = new Uint8Array(fs.readFileSync(at('tree.cab')));
  bytes[bytes.length - 1]! ^= 1;
  const open = (): unknown =>
    openArchive(readScriptFile(foreign('cabinet')), memorySource(bytes, 'tree.cab'), options);
  expect(failure(open).message).toMatch(/data\[0\]\.blocks\[0\]\.check, byte \d+: does not hold/);
});
