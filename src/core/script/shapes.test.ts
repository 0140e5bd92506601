import { describe, expect, test } from '@jest/globals';
import zlib from 'node:zlib';
import { nodePrimitives } from '@/platform/node/primitives';
import { openArchive, type Archive, type OpenOptions } from '../archive';
import { collect, memorySource, refOfBytes } from '../bytes';
import { planArchive, proveArchive } from '../mod';
import { BytesBuilder } from '../testing/bytes-builder';
import { emitted, failure } from '../testing/holds';
import { parseScript, type Script } from './index';

/** Archives of other shapes than the demo's, each made by hand, read by a script, proved and changed. */
const options: OpenOptions = { primitives: nodePrimitives };

const open = (script: Script, bytes: Uint8Array, given = options): Archive =>
  openArchive(script, memorySource(bytes, 'shape'), given);
const plain = (archive: Archive, index: number): string =>
  Buffer.from(collect(archive.plain(archive.entries[index]!))).toString();

/** Proves an archive, changes one entry, proves the result, and gives it back. */
function provedChange(
  script: Script,
  archive: Archive,
  index: number,
  text: string,
  given = options,
): Archive {
  expect(proveArchive(archive, given)).toMatchObject({ holds: true });
  const changed = open(
    script,
    emitted(planArchive(archive, new Map([[index, refOfBytes(Buffer.from(text))]]))),
    given,
  );
  expect(plain(changed, index)).toBe(text);
  expect(changed.entries.map(({ path }) => path)).toEqual(archive.entries.map(({ path }) => path));
  archive.entries.forEach((entry) => {
    if (entry.index !== index) expect(plain(changed, entry.index)).toBe(plain(archive, entry.index));
  });
  expect(proveArchive(changed, given)).toMatchObject({ holds: true });
  return changed;
}

describe('a big-endian table at the end, behind a footer', () => {
  const script = parseScript(`
format script: 1
title: Behind
recognise: [{ at: 0, text: BHND }]
byte order: big
records:
  head: { tag: { type: text(4), fixed: BHND } }
  table:
    rows: { type: row, count: footer.count }
    check: { type: u32, derived: "crc32(before(self, 'check'))" }
  row:
    name: text(16, latin1)
    offset: { type: u24, derived: place(payload) }
    length: { type: u16, derived: size(payload) }
  footer:
    at: { type: u32, derived: place(table) }
    count: { type: u32, derived: count(table.rows) }
    adler: { type: u32, derived: 'adler32(stored(table))' }
    tag: { type: text(4), fixed: DNHB }
parts:
  head: { type: head, at: 0 }
  footer: { type: footer, at: file.size - 16 }
  table: { type: table, at: footer.at }
entries:
  each: table.rows
  path: name
  size: length
  payload: { at: offset, size: length }
`);

  function sample(): Uint8Array {
    const out = new BytesBuilder(false).raw('BHND');
    const files = [
      ['été.txt', 'summer'],
      ['b.txt', 'bee bee'],
      ['empty.txt', ''],
    ] as const;
    const places = files.map(([, body]) => {
      const at = out.length;
      out.raw(body);
      return at;
    });
    const table = new BytesBuilder(false);
    files.forEach(([name, body], i) => {
      const cell = Buffer.alloc(16);
      cell.write(name, 'latin1');
      table.raw(cell).number(places[i]!, 3).number(body.length, 2);
    });
    table.number(zlib.crc32(table.bytes()), 4);
    const at = out.length;
    let a = 1;
    let b = 0;
    for (const byte of table.bytes()) {
      a = (a + byte) % 65521;
      b = (b + a) % 65521;
    }
    return out
      .raw(table.bytes())
      .number(at, 4)
      .number(files.length, 4)
      .number(b * 65536 + a, 4)
      .raw('DNHB')
      .bytes();
  }

  test('reads, proves and changes', () => {
    const archive = open(script, sample());
    expect(archive.entries.map(({ path, size }) => [path, size])).toEqual([
      ['été.txt', 6],
      ['b.txt', 7],
      ['empty.txt', 0],
    ]);
    const changed = provedChange(script, archive, 0, 'a much longer summer');
    expect(changed.source.length).toBe(archive.source.length + 14);
    provedChange(script, archive, 2, 'no longer empty');
  });

  test('each derived field that is false is named with its byte', () => {
    const good = sample();
    for (const [at, field] of [
      [good.length - 8 + 1, 'footer.adler'],
      [good.length - 3, 'footer.tag'],
    ] as const) {
      const bytes = good.slice();
      bytes[at]! ^= 1;
      const { facts } = failure(() => open(script, bytes));
      expect(facts.fieldPath).toBe(field);
      expect(facts.byteOffset).toBeLessThanOrEqual(at);
      expect(facts.byteOffset! + 4).toBeGreaterThan(at);
    }
  });

  test('an entry that outgrows its field is refused with the field', () => {
    const archive = open(script, sample());
    const error = failure(() =>
      emitted(planArchive(archive, new Map([[1, refOfBytes(new Uint8Array(70_000))]]))),
    );
    expect(error).toMatchObject({ code: 'does-not-fit', facts: { fieldPath: 'table.rows[1].length' } });
    expect(error.message).toContain('0 to 65535 (u16)');
  });
});

describe('a compressed index that holds places', () => {
  const script = parseScript(`
format script: 1
title: Squeezed
recognise: [{ at: 0, text: SQZ1 }]
records:
  head:
    tag: { type: text(4), fixed: SQZ1 }
    plain: { type: u32, derived: size(plain(index)) }
    stored: { type: u32, derived: size(index) }
    index: { type: row, count: rest, size: stored, seal: [{ zlib: { size: plain } }] }
  row:
    nameLength: u8
    name: text(nameLength)
    place: { type: u64, derived: place(payload) }
    stored: { type: u32, derived: size(payload) }
    size: { type: u32, derived: 'size(plain(payload))' }
    check: { type: u32, derived: 'adler32(plain(payload))' }
parts:
  head: { type: head, at: 0 }
entries:
  each: head.index
  path: name
  size: size
  payload: { at: place, size: stored, align: '32', seal: [{ zlib: { size: size } }] }
`);

  function sample(count: number): Uint8Array {
    const bodies = Array.from({ length: count }, (_, i) => Buffer.from(`body of ${i} `.repeat(i * 7 + 1)));
    const packed = bodies.map((body) => zlib.deflateSync(body));
    const index = (start: number): Buffer => {
      const out = new BytesBuilder();
      let at = start;
      bodies.forEach((body, i) => {
        const name = `dir/file number ${i}.txt`;
        let a = 1;
        let b = 0;
        for (const byte of body) {
          a = (a + byte) % 65521;
          b = (b + a) % 65521;
        }
        out
          .number(name.length, 1)
          .raw(name)
          .number(at, 8)
          .number(packed[i]!.length, 4)
          .number(body.length, 4);
        out.number(b * 65536 + a, 4);
        at = Math.ceil((at + packed[i]!.length) / 32) * 32;
      });
      return Buffer.from(out.bytes());
    };
    let start = 32;
    for (;;) {
      const stored = zlib.deflateSync(index(start));
      const wanted = Math.ceil((12 + stored.length) / 32) * 32;
      if (wanted === start) {
        const out = new BytesBuilder()
          .raw('SQZ1')
          .number(index(start).length, 4)
          .number(stored.length, 4)
          .raw(stored);
        for (const body of packed) out.fill(Math.ceil(out.length / 32) * 32).raw(body);
        return out.bytes();
      }
      start = wanted;
    }
  }

  test('settles when places move the index and the index moves the places', () => {
    const archive = open(script, sample(40));
    const changed = provedChange(script, archive, 3, 'something else '.repeat(4000));
    for (const entry of changed.entries) expect(entry.offset % 32).toBe(0);
  });

  test('an index that says too much of itself is refused', () => {
    const bytes = sample(5);
    new DataView(bytes.buffer).setUint32(4, 0x7fffffff, true);
    expect(failure(() => open(script, bytes)).code).toBe('budget');
    new DataView(bytes.buffer).setUint32(4, 3, true);
    expect(failure(() => open(script, bytes))).toMatchObject({
      code: 'codec-failed',
      facts: { fieldPath: 'head.index' },
    });
  });
});

describe('a masked table with optional properties and shared payloads', () => {
  const script = parseScript(`
format script: 1
title: Masked
recognise: [{ at: 0, hex: 4d 53 4b 02 }]
keys:
  mask: { bytes: 4, about: the mask of the table }
constants: { HAS_TIME: 1, HIDDEN: 2, SECTOR: 64 }
records:
  head:
    tag: { type: bytes(3), fixed: 4d534b }
    version: { type: u8, fixed: 2 }
    sectors: { type: u16, derived: 'file.size / SECTOR' }
    length: { type: u16, derived: size(table) }
    sum: { type: u32, derived: sum32(plain(table)), proves: mask }
    chosen: { type: u16, free: '7 * 6' }
    table: { type: row, count: rest, size: length, seal: [{ xor: { key: key.mask } }] }
  row:
    flags: u8
    name: ztext(utf-16le)
    time: { type: u32, if: flags & HAS_TIME }
    sector: { type: u16, derived: place(payload) / SECTOR }
    size: { type: u32, derived: size(payload) }
    weights: { type: i16, count: 'if(flags & HIDDEN, 3, 0)' }
parts:
  head: { type: head, at: 0 }
entries:
  each: head.table
  path: name
  size: size
  payload: { at: sector * SECTOR, size: size, align: SECTOR }
`);
  const mask = Buffer.from('5a0ff0a5', 'hex');
  const given: OpenOptions = { ...options, keys: new Map([['mask', new Uint8Array(mask)]]) };

  function sample(): Uint8Array {
    const rows = new BytesBuilder();
    const row = (flags: number, name: string, sector: number, size: number): void => {
      rows.number(flags, 1).raw(Buffer.from(`${name}\0`, 'utf16le'));
      if (flags & 1) rows.number(1_700_000_000, 4);
      rows.number(sector, 2).number(size, 4);
      if (flags & 2) for (const weight of [-5, 0, 300]) rows.number(BigInt.asUintN(16, BigInt(weight)), 2);
    };
    row(1, 'a/lamp.txt', 4, 9);
    row(2, 'b/λamp.txt', 4, 9);
    row(3, 'c/oil.txt', 5, 70);
    const table = Buffer.from(rows.bytes());
    const sum = table.reduce((total, byte) => total + byte, 0);
    const masked = table.map((byte, i) => byte ^ mask[i % 4]!);
    const head = new BytesBuilder()
      .raw(Buffer.from('4d534b02', 'hex'))
      .number(7, 2)
      .number(table.length, 2)
      .number(sum, 4);
    head.number(1, 2).raw(masked);
    return head.fill(256).raw('the lamp.').fill(320).raw('o'.repeat(70)).fill(448).bytes();
  }

  test('reads what is there and leaves out what is not', () => {
    const archive = open(script, sample(), given);
    expect(archive.entries.map(({ path }) => path)).toEqual(['a/lamp.txt', 'b/λamp.txt', 'c/oil.txt']);
    const times = archive.entries.map(({ row }) => row.get(row.type.byName.get('time')!));
    expect(times).toEqual([1_700_000_000, undefined, 1_700_000_000]);
    const { row } = archive.entries[1]!;
    expect([...(row.get(row.type.byName.get('weights')!) as Iterable<number>)]).toEqual([-5, 0, 300]);
    expect(plain(archive, 0)).toBe(plain(archive, 1));
  });

  test('two entries share their bytes until one of them is changed', () => {
    const archive = open(script, sample(), given);
    const same = open(script, emitted(planArchive(archive)), given);
    expect(same.entries[0]!.offset).toBe(same.entries[1]!.offset);
    const changed = open(
      script,
      emitted(planArchive(archive, new Map([[1, refOfBytes(Buffer.from('another lamp'))]]))),
      given,
    );
    expect([plain(changed, 0), plain(changed, 1)]).toEqual(['the lamp.', 'another lamp']);
    expect(changed.entries[0]!.offset).not.toBe(changed.entries[1]!.offset);
  });

  test('a free field is kept, and chosen by its rule when everything is made anew', () => {
    const archive = open(script, sample(), given);
    const chosen = (of: Archive): unknown => {
      const head = of.context.part('head') as Archive['entries'][number]['row'];
      return head.get(head.type.byName.get('chosen')!);
    };
    expect(chosen(open(script, emitted(planArchive(archive)), given))).toBe(1);
    const anew = emitted(planArchive(archive, new Map(), { anew: true }));
    expect(new DataView(anew.buffer, anew.byteOffset).getUint16(12, true)).toBe(42);
  });

  test('a wrong mask is told as a wrong key', () => {
    const wrong: OpenOptions = { ...options, keys: new Map([['mask', new Uint8Array([1, 2, 3, 4])]]) };
    expect(failure(() => open(script, sample(), wrong))).toMatchObject({
      code: 'key-wrong',
      facts: { fieldPath: 'head.sum', byteOffset: 8 },
    });
  });

  test('the space behind the last payload is kept', () => {
    const bytes = sample();
    bytes.fill(0x33, 400);
    expect(Buffer.from(emitted(planArchive(open(script, bytes, given)))).equals(bytes)).toBe(true);
  });
});

describe('budgets', () => {
  const script = parseScript(`
format script: 1
title: Many
recognise: [{ at: 0, text: MANY }]
records:
  head: { tag: text(4), count: u32, rows: { type: row, count: count } }
  row: { flag: { type: u8, if: count == 0 } }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, size: '0', payload: { at: '0', size: '0' } }
`);

  test('rows of no bytes are not made without end', () => {
    const bytes = new BytesBuilder().raw('MANY').number(0xffffffff, 4).bytes();
    const error = failure(() => open(script, bytes));
    expect(error.code).toBe('budget');
  });

  test('rows to the end of the file that take no bytes are refused', () => {
    const endless = parseScript(script.text.replace('count: count }', 'count: rest }'));
    expect(
      failure(() => open(endless, new BytesBuilder().raw('MANY').number(7, 4).raw('more').bytes())).code,
    ).toBe('truncated');
  });
});
