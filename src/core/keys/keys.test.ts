import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { nodePrimitives } from '@/platform/node/primitives';
import { FormatError, memorySource } from '../bytes';
import { parseScript } from '../script';
import { BytesBuilder } from '../testing/bytes-builder';
import { entriesOf, failure, holdBytes, holdScript, key as gameKey } from '../testing/holds';
import { findKeys, makeKeyProbe, type KeyProbe, type Spelling } from './index';
import { scheduledKeys, scheduleBytes } from './key-schedule';

const options = { primitives: nodePrimitives };
const HOLD = holdBytes(entriesOf({ 'a.txt': 'some text '.repeat(50), b: 'b' }), { key: gameKey });
const probeOf = (bytes: Uint8Array): KeyProbe =>
  makeKeyProbe(holdScript, memorySource(bytes, 'hold'), options);

/** Junk like code and tables, in which nothing is as varied as a key. */
function program(length: number, seed = 1): Buffer {
  const out = Buffer.alloc(length);
  let state = seed;
  for (let i = 0; i < length; i++) {
    state = (Math.imul(state, 1103515245) + 12345) >>> 0;
    out[i] = [0x48, 0x8b, 0x89, 0xe8, 0xc3, 0x0f, 0x85, 0x00][state >>> 29]!;
  }
  return out;
}

/** AES key schedules as FIPS 197 prints them, appendix A.1 and A.3. */
const SCHEDULES = [
  `2b7e1516 28aed2a6 abf71588 09cf4f3c a0fafe17 88542cb1 23a33939 2a6c7605 f2c295f2 7a96b943 5935807a 7359f67f
   3d80477d 4716fe3e 1e237e44 6d7a883b ef44a541 a8525b7f b671253b db0bad00 d4d1c6f8 7c839d87 caf2b8bc 11f915bc
   6d88a37a 110b3efd dbf98641 ca0093fd 4e54f70e 5f5fc9f3 84a64fb2 4ea6dc4f ead27321 b58dbad2 312bf560 7f8d292f
   ac7766f3 19fadc21 28d12941 575c006e d014f9a8 c9ee2589 e13f0cc8 b6630ca6`,
  `603deb10 15ca71be 2b73aef0 857d7781 1f352c07 3b6108d7 2d9810a3 0914dff4 9ba35411 8e6925af a51a8b5f 2067fcde
   a8b09c1a 93d194cd be49846e b75d5b9a d59aecb8 5bf3c917 fee94248 de8ebe96 b5a9328a 2678a647 98312229 2f6c79b3
   812c81ad dadf48ba 24360af2 fab8b464 98c5bfc9 bebd198e 268c3ba7 09e04214 68007bac b2df3316 96e939e4 6c518d80
   c814e204 76a9fb8a 5025c02d 59c58239 de136967 6ccc5a71 fa256395 9674ee15 5886ca5d 2e2f31d7 7e0af1fa 27cf73c3
   749c47ab 18501dda e2757e4f 7401905a cafaaae3 e4d59b34 9adf6ace bd10190d fe4890d1 e6188d0b 046df344 706c631e`,
].map((words) => Buffer.from(words.replace(/\s/g, ''), 'hex'));

const turned = (bytes: Buffer): Buffer => Buffer.from(bytes).swap32();

/** The schedule of a key, worked out as FIPS 197 writes it, with the platform's cipher for its S-box. */
function schedule(key: Buffer): Buffer {
  const box = (byte: number): number => {
    // With a key of zeros the first round of a block of one value shows the S-box; the table is simpler to take from inverses.
    let inverse = 0;
    for (let x = 1; x < 256 && byte; x++) if (times(byte, x) === 1) inverse = x;
    let out = 0x63;
    for (let i = 0; i < 5; i++) out ^= ((inverse << i) | (inverse >> (8 - i))) & 255;
    return out;
  };
  const words = Array.from({ length: key.length / 4 }, (_, i) => [...key.subarray(4 * i, 4 * i + 4)]);
  const per = words.length;
  let constant = 1;
  for (let i = per; words.length < scheduleBytes(key.length) / 4; i++) {
    let word = [...words[i - 1]!];
    if (i % per === 0) {
      word = [...word.slice(1), word[0]!].map(box);
      word[0]! ^= constant;
      constant = times(constant, 2);
    } else if (per > 6 && i % per === 4) word = word.map(box);
    words.push(word.map((byte, j) => byte ^ words[i - per]![j]!));
  }
  return Buffer.from(words.flat());
}

function times(a: number, b: number): number {
  let product = 0;
  for (let x = a, y = b; y; y >>= 1, x = ((x << 1) & 255) ^ (x & 0x80 ? 0x1b : 0)) if (y & 1) product ^= x;
  return product;
}

describe('key schedules', () => {
  test.each(SCHEDULES)('as they are published', (whole) => {
    const length = whole.length === 176 ? 16 : 32;
    expect(schedule(whole.subarray(0, length)).equals(whole)).toBe(true);
    for (const bytes of [whole, turned(whole)]) {
      const found: [string, number][] = [];
      const junk = Buffer.concat([Buffer.alloc(5, 1), bytes, Buffer.alloc(3, 2)]);
      scheduledKeys({ bytes: junk, base: 100, own: junk.length }, length, (one, at) => {
        found.push([Buffer.from(one).toString('hex'), at]);
        return false;
      });
      expect(found).toEqual([[whole.subarray(0, length).toString('hex'), 105]]);
    }
  });

  test('one false byte in it, and it is none', () => {
    const [whole] = SCHEDULES;
    for (let i = 0; i < whole!.length; i++) {
      const broken = Buffer.from(whole!);
      broken[i]! ^= 4;
      expect(scheduledKeys({ bytes: broken, base: 0, own: broken.length }, 16, () => true)).toBe(false);
    }
  });
});

const spelled: Record<Spelling, (key: Buffer) => Buffer> = {
  raw: (key) => key,
  reversed: (key) => Buffer.from(key).reverse(),
  hexadecimal: (key) => Buffer.from(key.toString('hex')),
  'wide hexadecimal': (key) => Buffer.from(key.toString('hex').toUpperCase(), 'utf16le'),
  base64: (key) => Buffer.from(key.toString('base64')),
  'two halves': (key) => Buffer.concat([key.subarray(16), Buffer.alloc(40, 7), key.subarray(0, 16)]),
  'key schedule': schedule,
};

describe('a key in a program', () => {
  const probe = probeOf(HOLD);

  test('what fails with a wrong one is named', () => {
    expect(probe.where).toBe('pages[0].check');
    expect(probe.lengths).toEqual([32]);
    expect(probe.passes(gameKey)).toBe(true);
    expect(probe.passes(new Uint8Array(32))).toBe(false);
    expect(probe.opens(gameKey)).toBe(2);
    expect(probe.opens(new Uint8Array(32))).toBeInstanceOf(FormatError);
  });

  test.each(Object.keys(spelled) as Spelling[])('%s, at any place', (spelling) => {
    fc.assert(
      fc.property(fc.nat(6000), (place) => {
        const bytes = program(8192, place + 1);
        // Halves are aligned to words, as compilers place numbers.
        const at = spelling === 'two halves' ? place & ~3 : place;
        spelled[spelling](gameKey).copy(bytes, at + 32);
        bytes[at + 31] = 0;
        const { found } = findKeys(memorySource(bytes), probe);
        expect(found).toEqual([{ key: new Uint8Array(gameKey), offset: at + 32, spelling, entries: 2 }]);
      }),
      { numRuns: 12 },
    );
  });

  test('across the pieces in which a program is read, and only where it is to begin', () => {
    const bytes = program((1 << 20) + 4096);
    const at = (1 << 20) - 10;
    gameKey.copy(bytes, at);
    expect(findKeys(memorySource(bytes), probe).found[0]!.offset).toBe(at);
    expect(findKeys(memorySource(bytes), probe, { to: at }).found).toEqual([]);
    expect(findKeys(memorySource(bytes), probe, { from: at + 1 }).found).toEqual([]);
    expect(findKeys(memorySource(bytes), probe, { from: at, to: at + 1 }).found).toHaveLength(1);
  });

  test('in the midst of packed data, last of all', () => {
    const noise = Buffer.concat(
      Array.from({ length: 128 }, (_, i) => createHash('sha256').update(`noise ${i}`).digest()),
    );
    gameKey.copy(noise, 2000);
    expect(findKeys(memorySource(noise), probe).found).toMatchObject([{ offset: 2000, spelling: 'raw' }]);
  });

  test('not there: how many were tried is told, and a key of another archive is none of this', () => {
    const bytes = program(8192);
    createHash('sha256').update('another').digest().copy(bytes, 4000);
    const { found, tested } = findKeys(memorySource(bytes), probe);
    expect(found).toEqual([]);
    expect(tested).toBeGreaterThan(0);
  });

  test('all of them: the same key twice is one', () => {
    const bytes = program(8192);
    gameKey.copy(bytes, 1000);
    bytes.write(gameKey.toString('hex'), 5000, 'latin1');
    bytes[4999] = 0;
    expect(findKeys(memorySource(bytes), probe, { all: true }).found).toHaveLength(1);
  });

  test('progress rises to the end, and what it throws ends the search', () => {
    const seen: number[] = [];
    const bytes = memorySource(program(3 << 20));
    findKeys(bytes, probe, { progress: (done, total) => void seen.push(done / total) });
    expect([...seen].sort((a, b) => a - b)).toEqual(seen);
    expect(seen.at(-1)).toBe(1);
    expect(() =>
      findKeys(bytes, probe, {
        progress: () => {
          throw new Error('enough');
        },
      }),
    ).toThrow('enough');
  });
});

describe('a whole file under a key of four bytes, in a field of which it is the content', () => {
  const script = parseScript(`
format script: 1
title: Masked
recognise: []
endings: [.msk]
keys: { project: { bytes: 4 } }
records:
  all: { body: bytes(rest) }
  start:
    first: { value: "span(0, 4, 'inside')" }
    isKnown: { value: "first == hex('89 50 4e 47')", fixed: '1', proves: project }
files:
  inside: { of: all, field: body, seal: [{ xor: { key: key.project } }] }
parts: { all: { type: all, at: 0 }, start: { type: start, in: inside, at: 0 } }
entries: { each: start, path: "'picture'", size: "filesize('inside')", payload: { in: inside, at: 0, size: "filesize('inside')" } }
`);
  const key = Buffer.from('82ffd888', 'hex');
  const plain = Buffer.concat([Buffer.from('89504e470d0a1a0a', 'hex'), program(600, 7)]);
  const masked = memorySource(
    plain.map((byte, i) => byte ^ key[i % 4]!),
    'one.msk',
  );

  test('is found by the field that proves it, wherever in the program', () => {
    const probe = makeKeyProbe(script, masked, options);
    const bytes = program(20_000);
    key.copy(bytes, 7777);
    expect(findKeys(memorySource(bytes), probe).found).toMatchObject([{ offset: 7777, entries: 1 }]);
  });

  test('and is none where it is not', () => {
    const probe = makeKeyProbe(script, masked, options);
    expect(findKeys(memorySource(program(20_000)), probe).found).toEqual([]);
  });
});

describe('archives whose tables are open and whose payloads are not', () => {
  const script = parseScript(`
format script: 1
title: Sealed
recognise: [{ at: 0, text: SEAL }]
keys: { main: { bytes: 16 } }
records:
  head: { tag: text(4), count: { type: u32, derived: count(rows) }, rows: { type: row, count: count } }
  row: { size: { type: u32, derived: size(payload) }, check: { type: u32, derived: crc32(plain(payload)) } }
parts: { head: { type: head, at: 0 } }
entries:
  each: head.rows
  size: size
  payload: { from: end(head), size: size, seal: [{ aes-ctr: { key: key.main, iv: "repeated(hex('00'), 16)" } }] }
`);
  const main = createHash('md5').update('main').digest();
  const out = new BytesBuilder().raw('SEAL').number(2, 4);
  const plain = ['the first one', 'second'].map((text) => Buffer.from(text));
  for (const text of plain) out.number(text.length, 4).number(zlib.crc32(text), 4);
  for (const text of plain) out.raw(createCipheriv('aes-128-ctr', main, Buffer.alloc(16)).update(text));

  test('the smallest payload that is checked tells', () => {
    const probe = makeKeyProbe(script, memorySource(out.bytes(), 'sealed'), options);
    expect(probe.where).toBe('unnamed/1');
    const bytes = program(4096);
    main.copy(bytes, 1234);
    expect(findKeys(memorySource(bytes), probe).found).toMatchObject([{ offset: 1234, entries: 2 }]);
  });

  test('nothing to tell by, no key needed, a script without keys: each is said', () => {
    const unchecked = parseScript(
      script.text.replace(', check: { type: u32, derived: crc32(plain(payload)) }', ''),
    );
    const bare = new BytesBuilder().raw('SEAL').number(1, 4).number(3, 4).raw('abc').bytes();
    expect(failure(() => makeKeyProbe(unchecked, memorySource(bare), options)).message).toContain(
      'something in the archive that a wrong key makes false',
    );
    expect(failure(() => probeOf(holdBytes(entriesOf({ a: 'a' })))).message).toContain('which needs no key');
    const keyless = parseScript(script.text.replace(/keys: .*\n/, '').replace(/, seal: .*\]/, ''));
    expect(failure(() => makeKeyProbe(keyless, memorySource(bare), options)).message).toContain(
      'which has none',
    );
  });

  test('an archive that is cut is told as such', () => {
    const cut = HOLD.subarray(0, 60);
    expect(failure(() => probeOf(cut)).message).toMatch(/the file ends too early|points outside/);
  });
});
