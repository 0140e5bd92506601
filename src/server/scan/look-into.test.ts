import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { crc32 } from '@node-rs/crc32';
import { spawnSync } from 'node:child_process';
import { createCipheriv, createHash, randomBytes } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import zlib from 'node:zlib';
import { writeHold } from '../../../demo/world/hold-writer';
import { NameList } from '@/core/archive';
import { readListing } from '@/platform/node/catalogue-files';
import { keepScript } from '../opening/scripts';
import { findingsOf } from './findings';
import { lookInto, timeFor, type ArchiveOutcome, type TaskKey } from './look-into';

let around: string;
let folder: string;
const key = createHash('sha256').update('a key').digest();
const salt = Buffer.alloc(16, 3);
const text = (name: string, body: string) => ({ path: name, data: () => Buffer.from(body) });

beforeAll(() => {
  // In a folder of its own, since what lies one level up is looked at as well.
  around = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-look-'));
  folder = path.join(around, 'game');
  fs.mkdirSync(folder);
  process.env.ZERO_LATCH_STORAGE = path.join(folder, 'storage');
  fs.mkdirSync(path.join(folder, 'listings'));
});
afterAll(() => fs.rmSync(around, { recursive: true, force: true }));

const keyOf = (id: number, bytes: Buffer, tiedTo = ''): TaskKey => ({
  id,
  label: `key ${id}`,
  bytes: new Uint8Array(bytes),
  tiedTo,
});

const look = (
  name: string,
  keys: readonly TaskKey[] = [],
  names = '',
  script = 'hold-peatfire-3',
): ArchiveOutcome =>
  lookInto(
    {
      folder,
      path: name,
      script,
      keys,
      listings: path.join(folder, 'listings'),
      stamp: '',
      givenDigest: '',
      namesDigest: '',
      guessed: new Set(['boats/keel.txt']),
    },
    NameList.parse(names),
  );
/** A table of places alone, as those have that keep the bytes in a second file. */
const INDEX_SCRIPT = `
format script: 1
title: Bare index
recognise:
  - { at: 0, text: IDX1 }
byte order: little
records:
  head:
    tag: { type: text(4), fixed: IDX1 }
    count: { type: u32, derived: count(rows) }
  row:
    name: text(8)
    place: { type: u32, derived: place(payload) }
    size: { type: u32, derived: size(payload) }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: 8, count: head.count }
entries:
  each: rows
  path: trimmed(name) + '.txt'
  payload: { at: place, size: size }
`;

const paths = ({ listing }: ArchiveOutcome): string[] =>
  new TextDecoder().decode(readListing(listing).lines).split('\n').slice(0, -1);

describe('looking into an archive', () => {
  test('lists it with those that lie in it, under their folders', () => {
    const inner = path.join(folder, 'inner.hold');
    writeHold(inner, [text('coat.txt', 'a coat')], { roll: true, rank: 1, salt });
    const bytes = fs.readFileSync(inner);
    writeHold(
      path.join(folder, 'outer.hold'),
      [
        { path: 'chest/odd.hold', data: () => bytes },
        text('chest/none.hold', 'no archive at all'),
        text('a.txt', 'a'),
      ],
      { roll: true, rank: 1, salt },
    );
    const outcome = look('outer.hold');
    expect(outcome).toMatchObject({ state: 'open', entries: 3, named: 3, unnamed: 0, problems: 0 });
    expect(paths(outcome)).toEqual(['a.txt', 'chest/none.hold', 'chest/odd.hold']);
    expect(outcome.nested).toMatchObject([{ path: 'outer.hold//chest/odd.hold', state: 'open', entry: 0 }]);
    expect(paths(outcome.nested[0]!)).toEqual(['chest/odd.hold/coat.txt']);
  });

  test('each key says how far it got; one for other archives is not tried', () => {
    writeHold(path.join(folder, 'keyed.hold'), [text('a.txt', 'a')], { roll: true, rank: 1, salt, key });
    expect(look('keyed.hold')).toMatchObject({ state: 'locked', tries: [], keyed: true });
    const wrong = look('keyed.hold', [keyOf(1, Buffer.alloc(32, 7)), keyOf(2, key, 'elsewhere')]);
    expect(wrong).toMatchObject({ state: 'locked', tries: [{ keyId: 1, field: expect.any(String) }] });
    expect(paths(wrong)).toEqual([]);
    const right = look('keyed.hold', [keyOf(1, Buffer.alloc(32, 7)), keyOf(2, key, 'keyed')]);
    expect(right).toMatchObject({ state: 'open', keyId: 2, reason: 'key 2 opens it', keyed: true });
    // A key of a length that no cipher of the script has is a key that does not fit, not a crash.
    expect(look('keyed.hold', [keyOf(3, Buffer.alloc(8, 1))])).toMatchObject({ state: 'locked' });
  });

  test('entries that need a key in an index that needs none are opened by the key that fits, or said to need one', () => {
    const plain = (i: number): Buffer => Buffer.from(`entry ${i} `.repeat(20));
    const iv = Buffer.alloc(16);
    const head = Buffer.alloc(8 + 12 * 3);
    head.write('KEN1');
    head.writeUInt32LE(3, 4);
    const bodies = [0, 1, 2].map((i) => {
      const cipher = createCipheriv('aes-256-ctr', key, iv);
      return Buffer.concat([cipher.update(plain(i)), cipher.final()]);
    });
    let at = head.length;
    for (const [i, body] of bodies.entries()) {
      head.writeUInt32LE(at, 8 + 12 * i);
      head.writeUInt32LE(body.length, 12 + 12 * i);
      head.writeUInt32LE(crc32(plain(i)), 16 + 12 * i);
      at += body.length;
    }
    fs.writeFileSync(path.join(folder, 'kept.ken'), Buffer.concat([head, ...bodies]));
    const scriptWith = (size: string): string =>
      `
format script: 1
title: Keyed entries
recognise: [{ at: 0, text: KEN1 }]
byte order: little
keys: { game: { bytes: 32 } }
records:
  head: { tag: { type: text(4), fixed: KEN1 }, count: { type: u32, derived: count(rows) } }
  row:
    at: { type: u32, derived: place(payload) }
    size: { type: u32, derived: size(payload) }
    check: { type: u32, derived: crc32(plain(payload)), proves: game }
parts:
  head: { type: head, at: 0 }
  rows: { type: row, at: 8, count: head.count }
entries:
  each: rows
  ${size}
  payload: { at: at, size: size, seal: [{ aes-ctr: { key: key.game, iv: 'concat(le(0, 8), le(0, 8))' } }] }
`;
    const { id } = keepScript(scriptWith('size: size'));
    const bare = look('kept.ken', [], '', id);
    expect(bare).toMatchObject({ state: 'open', keyId: null, keyed: true, entries: 3 });
    expect(bare.reason).toBe('the index is open, its entries need a key');
    const wrong = look('kept.ken', [keyOf(1, Buffer.alloc(32, 9))], '', id);
    expect(wrong).toMatchObject({ state: 'open', keyId: null, tries: [{ keyId: 1 }] });
    expect(wrong.reason).toContain('1 tried, none opens them');
    const right = look('kept.ken', [keyOf(1, Buffer.alloc(32, 9)), keyOf(2, key)], '', id);
    expect(right).toMatchObject({ state: 'open', keyId: 2, keyed: true });
    expect(right.reason).toBe('the index is open, key 2 opens its entries');
    // Where the index does not say how long they are, nothing can be listed without the key.
    const sizeless = keepScript(scriptWith('named: true').replace('  named: true\n', '')).id;
    expect(look('kept.ken', [], '', sizeless)).toMatchObject({ state: 'locked', entries: 0 });
    expect(look('kept.ken', [keyOf(2, key)], '', sizeless)).toMatchObject({ state: 'open', entries: 3 });
  });

  test('names come from lists; guessed ones are marked', () => {
    writeHold(path.join(folder, 'nameless.hold'), [text('boats/keel.txt', 'k'), text('x.txt', 'x')], {
      roll: false,
      rank: 1,
      salt,
    });
    expect(look('nameless.hold')).toMatchObject({ entries: 2, named: 0, unnamed: 2, hashing: true });
    const named = look('nameless.hold', [], 'boats/keel.txt');
    expect(named).toMatchObject({ named: 1, unnamed: 1 });
    const { flags } = readListing(named.listing);
    expect([...flags].filter((flag) => flag & 4).length).toBe(1);
  });

  test('an index whose payload lies nowhere is marked, one with its payload is not', () => {
    const { id } = keepScript(INDEX_SCRIPT);
    const index = (name: string, place: number, size: number): void => {
      const head = Buffer.from('IDX1\x02\0\0\0', 'latin1');
      const row = (title: string, at: number): Buffer => {
        const bytes = Buffer.alloc(16);
        bytes.write(title);
        bytes.writeUInt32LE(at, 8);
        bytes.writeUInt32LE(size, 12);
        return bytes;
      };
      const rows = [row('keel', place), row('mast', place + size)];
      fs.writeFileSync(path.join(folder, name), Buffer.concat([head, ...rows, Buffer.alloc(40, 7)]));
    };
    index('full.index', 40, 20);
    index('bare.index', 4000, 200);
    const full = look('full.index', [], '', id);
    expect(full).toMatchObject({ state: 'open', entries: 2, problems: 0, isEmptyHanded: false });
    const bare = look('bare.index', [], '', id);
    expect(bare).toMatchObject({ state: 'open', entries: 2, problems: 2, isEmptyHanded: true });
    const { notes } = findingsOf(folder, { files: [], links: [], closed: [] }, [full, bare], []);
    expect(notes).toMatchObject([{ what: expect.stringContaining('bare.index') }]);
  });

  test('one that has gone, or is cut, is said and stops nothing', () => {
    expect(look('gone.hold')).toMatchObject({ state: 'broken', reason: expect.stringContaining('ENOENT') });
    writeHold(path.join(folder, 'cut.hold'), [text('a.txt', 'abc'.repeat(100))], {
      roll: true,
      rank: 1,
      salt,
    });
    fs.truncateSync(path.join(folder, 'cut.hold'), 100);
    expect(look('cut.hold')).toMatchObject({ state: 'broken', entries: 0 });
  });
});

describe('one that is cut short, or that a few bytes make endless', () => {
  const tools = {
    gzip: { ending: 'gz', pack: (bytes: Buffer) => zlib.gzipSync(bytes) },
    bzip2: { ending: 'bz2', pack: (bytes: Buffer) => tool('bzip2', bytes) },
    xz: { ending: 'xz', pack: (bytes: Buffer) => tool('xz', bytes) },
    zstandard: { ending: 'zst', pack: (bytes: Buffer) => tool('zstd', bytes) },
  };
  const tool = (name: string, input: Buffer): Buffer => {
    const { status, stdout } = spawnSync(name, ['-c', '-q'], { input, maxBuffer: 1 << 28 });
    expect(status).toBe(0);
    return stdout;
  };
  const noise = randomBytes(300_000);

  test.each(Object.entries(tools))('%s: cut anywhere, it is told of it alone', (script, { ending, pack }) => {
    const whole = pack(noise);
    for (const share of [0.999, 0.6, 0.1, 0.001]) {
      const name = `cut-${share}.${ending}`;
      fs.writeFileSync(
        path.join(folder, name),
        whole.subarray(0, Math.max(4, Math.floor(whole.length * share))),
      );
      const outcome = look(name, [], '', script);
      expect([name, outcome.state, outcome.problems > 0 || outcome.state === 'broken']).toEqual([
        name,
        outcome.state,
        true,
      ]);
    }
  });

  test('a few bytes that stand for hundreds of megabytes are given up, also inside others', () => {
    const endless = tool('bzip2', Buffer.alloc(250_000_000));
    expect(endless.length).toBeLessThan(400);
    fs.writeFileSync(path.join(folder, 'endless.bz2'), endless);
    const began = Date.now();
    const outcome = look('endless.bz2', [], '', 'bzip2');
    expect(outcome).toMatchObject({ state: 'open', entries: 1, problems: 1 });
    // Sparse in words as well as in time: the bound is a multiple of what a scan gives, whatever the machine.
    expect(Date.now() - began).toBeLessThan(4 * timeFor({ folder, path: 'endless.bz2' }));
    const inner = path.join(folder, 'inner');
    fs.mkdirSync(inner);
    for (let i = 0; i < 3; i++) fs.writeFileSync(path.join(inner, `${i}.bz2`), endless);
    fs.writeFileSync(path.join(inner, 'fine.txt'), 'fine');
    expect(spawnSync('tar', ['-cf', path.join(folder, 'many.tar'), '-C', inner, '.']).status).toBe(0);
    const many = look('many.tar', [], '', 'tar');
    expect(many).toMatchObject({ state: 'open', entries: 4 });
    expect(readListing(many.listing)!.problems).toEqual([]);
  }, 120_000);

  test('nothing else is said to be too slow', () => {
    const { ending, pack } = tools.xz;
    fs.writeFileSync(
      path.join(folder, `fine.${ending}`),
      pack(Buffer.concat(Array.from({ length: 20 }, () => noise))),
    );
    expect(look(`fine.${ending}`, [], '', 'xz')).toMatchObject({ state: 'open', problems: 0 });
  });
});
