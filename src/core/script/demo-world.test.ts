import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { memorySource } from '@/core/bytes';
import { proveArchive } from '@/core/mod';
import { writeHold4, type Hold4Options } from '../../../demo/world/hold4-writer';
import { masked } from '../../../demo/world/quillmoor/mask';
import { writeSongbook } from '../../../demo/world/songbook-writer';
import { writeSpool } from '../../../demo/world/spool-writer';
import { writeCall, writeHarbour, writePrint } from '../../../demo/world/tallow/file-writers';
import { writeStores } from '../../../demo/world/tallow/stores-writer';
import { bell } from '../../../demo/world/sounds';
import { entriesOf, failure, key } from '../testing/holds';
import { bare, expectCutsAreSeen, expectRoundTrip, openWith, textsOf } from '../testing/round-trip';
import type { OpenOptions } from '../archive';
import { parseScript, type Script } from '.';

const shipped = (name: string): Script =>
  parseScript(fs.readFileSync(`scripts/formats/${name}.yaml`, 'utf8'));

const withKeys = (keys: Record<string, Buffer>): OpenOptions => ({
  ...bare,
  keys: new Map(Object.entries(keys).map(([name, bytes]) => [name, new Uint8Array(bytes)])),
});
const game = withKeys({ game: key });
const salt = Buffer.from('a salt of sixteen'.slice(0, 16));
const texts = { 'a/one.txt': 'one', 'a/two.txt': 'two '.repeat(400), 'b/three.bin': 'three, kept as it is' };

/** Deflated, hashed or raw: every byte of a cut archive must be missed by something. */
const CUT_STEP = 7;

function hold4(settings: Partial<Hold4Options>): Uint8Array {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-test-'));
  try {
    const file = path.join(folder, 'test.hold');
    const entries = entriesOf(texts).map((entry, i) => ({ ...entry, loose: i === 2, modified: 1000 + i }));
    writeHold4(file, entries, { roll: true, rank: 3, title: 'test', salt, rowsPerPage: 2, ...settings });
    return new Uint8Array(fs.readFileSync(file));
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}

describe('holds of Peatfire 4', () => {
  const script = shipped('hold-peatfire-4');

  test('open, keyed, with a second key, and without names', () => {
    expectRoundTrip(script, hold4({}), texts);
    const keyed = expectRoundTrip(script, hold4({ key }), texts, game);
    expect(keyed.entries.map(({ modified }) => modified)).toEqual([1000, 1001, 1002]);
    expectRoundTrip(script, hold4({ key, second: true }), texts, withKeys({ expansion: key }));
    const names = { names: Object.keys(texts) };
    expectRoundTrip(script, hold4({ key, roll: false }), texts, { ...game, ...names });
  });

  test('the wrong key is told from a damaged file, and a missing one is named', () => {
    const bytes = hold4({ key });
    expect(failure(() => openWith(script, bytes, withKeys({ game: Buffer.alloc(32) })))).toMatchObject({
      code: 'key-wrong',
      facts: { fieldPath: 'pages[0].check' },
    });
    expect(failure(() => openWith(script, hold4({ key, second: true }), game)).message).toContain(
      'expansion',
    );
    bytes[60]! ^= 1;
    expect(failure(() => openWith(script, bytes, game)).facts.fieldPath).toBe('head.check');
  });

  test('cuts are seen', () => expectCutsAreSeen(script, hold4({ key }), game, CUT_STEP));
});

test('holds in holds open through both', () => {
  const inner = hold4({});
  const chest = writeStores([{ path: 'chest.hold', data: Buffer.from(inner), loose: true }]);
  const outer = openWith(shipped('stores-harbour'), chest.list, {
    ...bare,
    names: ['chest.hold'],
    companion: (name) => memorySource(chest.bulk, name),
  });
  const bytes = Buffer.concat(
    [...outer.plain(outer.entries[0]!).chunks()].map((chunk) => Buffer.from(chunk)),
  );
  expect(textsOf(openWith(shipped('hold-peatfire-4'), bytes))).toEqual(Object.values(texts));
});

describe('songbooks', () => {
  const script = shipped('songbook-peatfire');
  const long = 'a long take '.repeat(1200);
  const takes = Object.entries({ 'bell/far': 'ding', 'song/a': long, 'song/ab': `${long}b` }).map(
    ([name, text]) => ({
      name,
      codec: name.startsWith('song') ? ('opus' as const) : ('adpcm' as const),
      rate: 48000,
      samples: name.startsWith('song') ? 10 : 0,
      data: Buffer.from(text),
    }),
  );
  const { book, reels } = writeSongbook(takes, key, salt.subarray(0, 8));
  const entries = { 'bell/far.adpcm': 'ding', 'song/a.opus': long, 'song/ab.opus': `${long}b` };
  const options: OpenOptions = {
    ...game,
    companion: (name, _type, number) => reels[number] && memorySource(reels[number], name),
  };

  test('short takes lie in the book and long ones in reels', () => {
    const archive = expectRoundTrip(script, book, entries, options, ['x', 'y'.repeat(20_000)]);
    expect(archive.files.map(({ space }) => space.source.name)).toEqual(['sample', 'sample.reel1']);
    expect(archive.entries.map(({ file }) => file)).toEqual([0, 1, 1]);
  });

  test('a reel of another book and a missing one are named', () => {
    const foreign = Buffer.from(reels[0]!);
    foreign[8]! ^= 1;
    const other = { ...game, companion: (name: string) => memorySource(foreign, name) };
    expect(failure(() => openWith(script, book, other)).facts.fieldPath).toBe('reelHeads[0].salt');
    expect(failure(() => openWith(script, book, game)).message).toContain('sample.reel1');
  });

  test('cuts are seen', () => expectCutsAreSeen(script, book, options, CUT_STEP));
});

describe('spools', () => {
  const script = shipped('spool-peatfire');
  const piece = (time: number, text: string): { time: number; data: Buffer } => ({
    time,
    data: Buffer.from(text),
  });
  const spool = writeSpool(
    [
      { kind: 'picture', tongue: '', pieces: [piece(0, 'frame one'), piece(40, 'frame two')] },
      { kind: 'sound', tongue: 'en', pieces: [piece(0, 'hello'), piece(60, 'there')] },
      { kind: 'marks', tongue: '', pieces: [piece(20, 'fade')] },
    ],
    key,
  );

  test('tracks come out as one stream each and go in again', () => {
    const streams = {
      'picture.ivf': 'frame oneframe two',
      'sound_en.opus': 'hellothere',
      'marks.txt': 'fade',
    };
    expectRoundTrip(script, spool, streams, game);
  });

  test('a wrong key is seen at the first chunk', () => {
    const error = failure(() => openWith(script, spool, withKeys({ game: Buffer.alloc(32, 1) })));
    expect(error.facts.fieldPath).toMatch(/^chunks\[0\]/);
  });

  test('cuts are seen', () => expectCutsAreSeen(script, spool, game));
});

describe('stores', () => {
  const script = shipped('stores-harbour');
  const items = Object.entries(texts).map(([name, text]) => ({ path: name, data: Buffer.from(text) }));
  const { list, bulk } = writeStores(items);
  const options: OpenOptions = {
    ...bare,
    names: Object.keys(texts),
    companion: (name) => memorySource(bulk, name),
  };

  test('rows by number, places by difference, packed by the store packing', () => {
    const archive = openWith(script, list, options);
    const order = archive.entries.map(({ path: name }) => name);
    expect([...order].sort()).toEqual(Object.keys(texts));
    const inOrder = Object.fromEntries(order.map((name) => [name, texts[name as keyof typeof texts]]));
    expectRoundTrip(script, list, inOrder, options);
    expect(archive.entries.find(({ size }) => size === 1600)!.storedSize).toBeLessThan(400);
  });

  test('rows out of order are refused', () => {
    const rows = Buffer.from(list);
    const first = openWith(script, list, options).entries[0]!.row;
    rows.writeUInt32BE(0xffffffff, first.offset);
    expect(failure(() => openWith(script, rows, options))).toMatchObject({
      code: 'derived-mismatch',
      facts: { fieldPath: 'list.rows[1], sorted' },
    });
  });

  test('cuts are seen', () => expectCutsAreSeen(script, list, options));
});

const pixels = {
  width: 8,
  height: 8,
  data: Buffer.from(Array.from({ length: 256 }, (_, i) => (i * 37) % 251)),
};

describe('harbours', () => {
  const script = shipped('harbour');
  const things = {
    berths: [{ name: 'jetty', x: -5, y: 7 }],
    ground: Buffer.from('ground'),
    pictures: [{ pixels, name: 'view' }],
  };

  test.each(['desk', 'hand'] as const)('of the %s', (machine) => {
    const bytes = writeHarbour(things, machine);
    const archive = openWith(script, bytes);
    expect(archive.entries.map(({ path: name, size }) => [name, size])).toEqual([
      ['terr.bin', 6],
      ['pictures/view.bc1', 32],
    ]);
    const [ground, view] = textsOf(archive);
    expectRoundTrip(script, bytes, { 'terr.bin': ground!, 'pictures/view.bc1': view! });
    expectCutsAreSeen(script, bytes);
  });
});

test('prints keep their texels under zlib', () => {
  for (const layout of ['bc1', 'rgba8'] as const) {
    const bytes = writePrint(pixels, layout);
    const archive = openWith(shipped('print-harbour'), bytes);
    expect(archive.entries[0]!.size).toBe(layout === 'bc1' ? 32 : 256);
    expectRoundTrip(shipped('print-harbour'), bytes, { texels: textsOf(archive)[0]! });
    expectCutsAreSeen(shipped('print-harbour'), bytes);
  }
});

test('calls of both kinds, told by their heads', () => {
  const wave = bell(300).subarray(0, 444);
  for (const kind of ['near', 'far'] as const) {
    const bytes = writeCall(wave, kind);
    const archive = openWith(shipped('call-harbour'), bytes);
    expect(archive.entries[0]).toMatchObject({ path: `${kind}.adpcm`, size: 100 });
    expect(proveArchive(archive, bare).claims.filter(({ holds }) => !holds)).toEqual([]);
    expectCutsAreSeen(shipped('call-harbour'), bytes);
  }
});

describe('masked files', () => {
  const script = shipped('masked-quillmoor');
  const seed = Buffer.from('5eed1234', 'hex');
  const options = withKeys({ project: seed });
  const plain = Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), Buffer.from('a picture')]);
  // Archives of these tests are called 'sample'.
  const bytes = masked(plain, 'sample', seed.readUInt32LE());

  test('the mask follows from the name and the seed of the project', () => {
    const archive = openWith(script, bytes, options);
    expect(archive.entries[0]).toMatchObject({ path: 'sample.png', size: plain.length });
    expect(Buffer.concat([...archive.plain(archive.entries[0]!).chunks()])).toEqual(plain);
    expect(proveArchive(archive, options)).toMatchObject({ holds: true });
  });

  test('another seed or another name is a wrong key', () => {
    expect(failure(() => openWith(script, bytes, withKeys({ project: Buffer.alloc(4) }))).code).toBe(
      'key-wrong',
    );
    const renamed = masked(plain, 'other', seed.readUInt32LE());
    expect(failure(() => openWith(script, renamed, options))).toMatchObject({ code: 'key-wrong' });
  });
});
