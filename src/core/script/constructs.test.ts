import { describe, expect, test } from '@jest/globals';
import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { proveArchive } from '../mod';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import {
  bare,
  expectCutsAreSeen,
  expectRoundTrip,
  openWith,
  textsOf,
  withChange,
} from '../testing/round-trip';
import { parseScript } from './index';

/** Constructs of the language that the worked examples of the reference leave out, on bytes made by hand. */
const script = (body: string) => parseScript(`format script: 1\ntitle: Sample\n${body}`);

describe('a byte order that a field decides', () => {
  const ordered = script(`
recognise: [{ at: 0, text: II }, { at: 0, text: MM }]
byte order: { big if: head.order == 'MM' }
records:
  head: { order: text(2), count: { type: u16, derived: count(rows) }, rows: { type: row, count: count } }
  row: { at: { type: u32, derived: place(payload) }, size: { type: u24, derived: size(payload) }, name: 'ctext(u16, utf-16le)' }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: name, size: size, payload: { at: at, size: size } }
`);

  test.each(['II', 'MM'])('%s', (mark) => {
    const out = new BytesBuilder(mark === 'II').raw(mark).number(2, 2);
    const rows = 2 * (4 + 3 + 2 + 2);
    out
      .number(4 + rows, 4)
      .number(3, 3)
      .number(1, 2)
      .raw(Buffer.from('a', 'utf16le'));
    out
      .number(7 + rows, 4)
      .number(4, 3)
      .number(1, 2)
      .raw(Buffer.from('λ', 'utf16le'))
      .raw('onefour');
    const bytes = out.bytes();
    expectRoundTrip(ordered, bytes, { a: 'one', λ: 'four' });
    expectCutsAreSeen(ordered, bytes);
  });
});

describe('several tables, choices by a tag, enums', () => {
  const several = script(`
recognise: [[{ at: 0, text: SV }, { at: -2, text: VS }]]
enums: { kind: { plain: 1, packed: 2 } }
records:
  head:
    tag: text(2)
    chunks: { type: chunk, while: 'byteat(here) != 0x56' }
  chunk:
    kind: { type: u8, enum: kind }
    body: { type: { by: kind, cases: { '1': plainChunk, '2': packedChunk } } }
  plainChunk: { name: ctext(u8), size: { type: u16, derived: size(payload) }, data: bytes(size) }
  packedChunk:
    size: { type: u16, derived: size(plain(payload)) }
    stored: { type: u16, derived: size(payload) }
    check: { type: u32, derived: crc32(plain(payload)) }
    data: bytes(stored)
    name: ctext(u8)
  ending: { tag: { type: text(2), fixed: VS } }
parts:
  head: { type: head, at: 0 }
  ending: { type: ending, at: end(head) }
entries:
  - each: "within(head, 'plainChunk')"
    path: "'plain/' + name"
    payload: { field: data }
  - each: "within(head, 'packedChunk')"
    where: 'parent.kind == kind.packed'
    path: "'packed/' + name"
    size: size
    payload: { field: data, seal: [{ deflate: { size: size } }] }
`);

  function sample(): BytesBuilder {
    const packed = zlib.deflateRawSync('the packed one');
    return new BytesBuilder()
      .raw('SV')
      .number(1, 1)
      .raw('\x03one')
      .number(5, 2)
      .raw('first')
      .number(2, 1)
      .number(14, 2)
      .number(packed.length, 2)
      .number(zlib.crc32('the packed one'), 4)
      .raw(packed)
      .raw('\x03two')
      .number(1, 1)
      .raw('\x05three')
      .number(4, 2)
      .raw('last');
  }

  test('each group has its own way to its bytes', () => {
    const bytes = sample().raw('VS').bytes();
    expectRoundTrip(several, bytes, {
      'plain/one': 'first',
      'plain/three': 'last',
      'packed/two': 'the packed one',
    });
    expectCutsAreSeen(several, bytes);
  });

  test('a value that no enum has is named', () => {
    const bytes = sample().number(7, 1).raw('VS').bytes();
    expect(failure(() => openWith(several, bytes))).toMatchObject({
      code: 'bad-value',
      facts: { fieldPath: 'head.chunks[3].kind', expected: 'one of plain, packed' },
    });
  });

  test('marks that must all be there', () => {
    expect(failure(() => openWith(several, sample().raw('VX').bytes())).code).toBe('not-recognised');
  });
});

describe('checks', () => {
  const checked = script(`
recognise: [{ at: 0, text: CHK }]
records:
  head:
    tag: text(3)
    count: { type: u8, derived: count(rows) }
    selfCheck: { type: u32, derived: "crc32(zeroed(self, 'selfCheck'))" }
    bodies: { type: u32, derived: 'crc32(concat(plain(entry(0)), plain(entry(1))))' }
    all: { type: u32, derived: 'adler32(span(end(head), file.size - end(head)))' }
    rows: { type: row, count: count }
  row: { size: { type: u16, derived: size(payload) }, hash: { type: bytes(8), derived: 'take(md5(plain(payload)), 8, 8)' } }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: "'f' + text(position)", size: size, payload: { from: end(head), size: size } }
`);
  const bodies = ['alpha', 'beta and more'];

  function sample(): Uint8Array {
    const rest = Buffer.from(bodies.join(''));
    let a = 1;
    let b = 0;
    for (const byte of rest) {
      a = (a + byte) % 65521;
      b = (b + a) % 65521;
    }
    const build = (check: number): BytesBuilder => {
      const out = new BytesBuilder().raw('CHK').number(2, 1).number(check, 4);
      out.number(zlib.crc32(rest), 4).number(b * 65536 + a, 4);
      for (const body of bodies)
        out.number(body.length, 2).raw(createHash('md5').update(body).digest().subarray(8));
      return out;
    };
    return build(zlib.crc32(build(0).bytes()))
      .raw(rest)
      .bytes();
  }

  test('over the record itself, one entry, several entries and the file', () => {
    expectRoundTrip(checked, sample(), { f0: 'alpha', f1: 'beta and more' });
  });

  test('each that is false is named, at the latest by the proof', () => {
    const wrong = (at: number, alsoSelf = true): Uint8Array => {
      const bytes = sample();
      bytes[at]! ^= 1;
      if (alsoSelf) {
        const view = new DataView(bytes.buffer);
        view.setUint32(4, 0, true);
        view.setUint32(4, zlib.crc32(bytes.subarray(0, 36)), true);
      }
      return bytes;
    };
    expect(failure(() => openWith(checked, wrong(5, false))).facts).toMatchObject({
      fieldPath: 'head.selfCheck',
      byteOffset: 4,
    });
    expect(failure(() => openWith(checked, wrong(12))).facts).toMatchObject({
      fieldPath: 'head.all',
      byteOffset: 12,
    });
    const archive = openWith(checked, wrong(8));
    const [claim] = proveArchive(archive, bare).claims;
    expect(claim).toMatchObject({ holds: false, detail: expect.stringContaining('head.bodies, byte 8') });
    expect(failure(() => textsOf(openWith(checked, wrong(18)))).message).toContain('rows[0].hash');
  });
});

describe('blocks', () => {
  const plain = Array.from({ length: 90 }, (_, i) => `line ${i % 7}`).join('\n');
  const cut = (size: number): Buffer[] =>
    Array.from({ length: Math.ceil(plain.length / size) }, (_, i) =>
      Buffer.from(plain.slice(i * size, (i + 1) * size)),
    );
  const longer = ['short', 'another text that takes several blocks '.repeat(20).trim()];

  test('a size before each block, and stored ones as long as their plain bytes', () => {
    const each = script(`
recognise: [{ at: 0, text: EACH }]
records: { head: { tag: text(4), size: { type: u32, derived: size(plain(payload)) }, stored: { type: u32, derived: size(payload) } } }
parts: { head: { type: head, at: 0 } }
entries:
  each: head
  path: "'body'"
  size: size
  payload:
    at: '12'
    size: stored
    seal: [{ blocks: { plain: '64', total: size, each: u16, order: big, raw: when full, codec: zlib } }]
`);
    const body = new BytesBuilder(false);
    for (const block of cut(64)) {
      const packed = zlib.deflateSync(block);
      const out = packed.length < block.length ? packed : block;
      body.number(out.length, 2).raw(out);
    }
    const bytes = new BytesBuilder()
      .raw('EACH')
      .number(plain.length, 4)
      .number(body.length, 4)
      .raw(body.bytes())
      .bytes();
    expectRoundTrip(each, bytes, { body: plain }, bare, longer);
  });

  test('sizes in a list of their own, which grows with the payload', () => {
    const apart = script(`
recognise: [{ at: 0, text: APRT }]
records:
  head:
    tag: text(4)
    size: { type: u32, derived: size(plain(payload)) }
    sizes: { type: u16, count: 'ceildiv(size, 64)', derived: 'blocksize(entry(0), position)' }
parts: { head: { type: head, at: 0 } }
entries:
  each: head
  path: "'body'"
  size: size
  payload:
    from: end(head)
    size: sum(sizes)
    seal: [{ blocks: { plain: '64', total: size, sizes: sizes, codec: deflate } }]
`);
    const packed = cut(64).map((block) => zlib.deflateRawSync(block));
    const out = new BytesBuilder().raw('APRT').number(plain.length, 4);
    for (const block of packed) out.number(block.length, 2);
    for (const block of packed) out.raw(block);
    expectRoundTrip(apart, out.bytes(), { body: plain }, bare, longer);
  });
});

describe('seals', () => {
  const key = Buffer.from('000102030405060708090a0b0c0d0e0f', 'hex');

  test('only the first bytes, every second block, a kept tail, a skipped head', () => {
    const partly = script(`
recognise: [{ at: 0, text: PART }]
keys: { game: { bytes: 16 } }
records:
  head: { tag: text(4), sizes: { type: u16, count: '4', derived: 'size(entry(position))' } }
parts: { head: { type: head, at: 0 } }
entries:
  - each: '1'
    path: "'first'"
    size: 'head.sizes[0]'
    payload: { from: '12', size: 'head.sizes[0]', seal: [{ aes-ecb: { key: key.game, first: '32', tail: kept } }] }
  - each: '1'
    path: "'second'"
    size: 'head.sizes[1]'
    payload: { from: '12 + head.sizes[0]', size: 'head.sizes[1]', seal: [{ aes-ecb: { key: key.game, every: { nth: '2', of: '16' }, tail: kept } }] }
  - each: '1'
    path: "'third'"
    size: 'head.sizes[2]'
    payload: { from: '12 + head.sizes[0] + head.sizes[1]', size: 'head.sizes[2]', seal: [{ aes-ecb: { key: key.game, skip: '5', tail: kept } }] }
  - each: '1'
    path: "'fourth'"
    size: 'head.sizes[3]'
    payload:
      from: '12 + head.sizes[0] + head.sizes[1] + head.sizes[2]'
      size: 'head.sizes[3]'
      seal: [{ keystream: { seed: 'head.sizes[3]', times: '5', plus: '3', bits: '8' } }]
`);
    const ecb = (text: Buffer): Buffer => {
      const cipher = createCipheriv('aes-128-ecb', key, null).setAutoPadding(false);
      return Buffer.concat([
        cipher.update(text.subarray(0, text.length - (text.length % 16))),
        text.subarray(text.length - (text.length % 16)),
      ]);
    };
    const text = Buffer.from(
      Array.from({ length: 77 }, (_, i) => String.fromCharCode(97 + (i % 26))).join(''),
    );
    const first = Buffer.concat([ecb(text.subarray(0, 32)), text.subarray(32)]);
    const second = Buffer.concat(
      Array.from({ length: 5 }, (_, i) =>
        i % 2 === 0 ? ecb(text.subarray(16 * i, 16 * i + 16)) : text.subarray(16 * i, 16 * i + 16),
      ),
    );
    const third = Buffer.concat([text.subarray(0, 5), ecb(text.subarray(5))]);
    let state = 77;
    const fourth = text.map((byte) => byte ^ (state = (state * 5 + 3) & 255));
    const out = new BytesBuilder().raw('PART');
    for (let i = 0; i < 4; i++) out.number(77, 2);
    const bytes = out.raw(first).raw(second).raw(third).raw(fourth).bytes();
    const options = { ...bare, keys: new Map([['game', new Uint8Array(key)]]) };
    const plain = text.toString();
    expect(textsOf(openWith(partly, bytes, options))).toEqual([plain, plain, plain, plain]);
    expect(proveArchive(openWith(partly, bytes, options), options)).toMatchObject({ holds: true });
  });

  test('a plain size that nothing states', () => {
    const unsized = script(`
recognise: [{ at: 0, text: GZ }]
records: { head: { tag: text(2), stored: { type: u16, derived: size(payload) } } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'body'", payload: { at: '4', size: stored, seal: [{ gzip: {} }] } }
`);
    const packed = zlib.gzipSync('how long this is, only its own tail says');
    const bytes = new BytesBuilder().raw('GZ').number(packed.length, 2).raw(packed).bytes();
    const archive = expectRoundTrip(unsized, bytes, { body: 'how long this is, only its own tail says' });
    expect(archive.entries[0]!.size).toBe(40);
  });

  test('payloads inside a packed part', () => {
    const solid = script(`
recognise: [{ at: 0, text: SLD }]
records:
  head:
    tag: text(3)
    plain: { type: u16, derived: size(plain(chunks)) }
    stored: { type: u16, derived: size(chunks) }
    chunks: { type: chunk, count: rest, size: stored, seal: [{ zlib: { size: plain } }] }
  chunk: { name: ctext(u8), size: { type: u16, derived: size(payload) }, data: bytes(size) }
parts: { head: { type: head, at: 0 } }
entries: { each: head.chunks, path: name, size: size, payload: { field: data } }
`);
    const inner = Buffer.from('\x01a\x03\x00one\x01b\x05\x00three', 'latin1');
    const packed = zlib.deflateSync(inner);
    const bytes = new BytesBuilder()
      .raw('SLD')
      .number(inner.length, 2)
      .number(packed.length, 2)
      .raw(packed)
      .bytes();
    expectRoundTrip(solid, bytes, { a: 'one', b: 'three' });
  });
});

describe('wrappers and numbers', () => {
  test('fields of a wrapper follow from what is in it, the rest is kept', () => {
    const wrapped = script(`
recognise: [{ at: 0, text: WRP }]
records:
  head:
    tag: text(3)
    note: u32
    width: { type: uleb, derived: 'frombe(take(plain(payload), 0, 2))' }
    length: { type: i16, derived: 'if(was(length) < 0, 0 - size(payload), size(payload))' }
    data: bytes(rest)
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'inside'", payload: { field: data } }
`);
    const bytes = new BytesBuilder()
      .raw('WRP')
      .number(0xdeadbeef, 4)
      .raw('\x41')
      .number(0xfffd, 2)
      .raw('\0A!')
      .bytes();
    const built = withChange(
      expectRoundTrip(wrapped, bytes, { inside: '\0A!' }, bare, ['Zz and so on']),
      0,
      'Zz and so on',
    );
    // 0x5a7a as two seven-bit groups and a third, and minus twelve.
    expect(Buffer.from(built).toString('hex', 0, 12)).toBe(
      `${Buffer.from('WRP').toString('hex')}efbeaddefab401f4ff`,
    );
  });

  test('numbers spelled in another way than ours stay as they are', () => {
    const spelled = script(`
recognise: [{ at: 0, text: SP }]
records:
  head: { tag: text(2), long: uleb, back: sleb, music: vlq, octal: 'digits(6, 8)', size: { type: 'digits(4, 16)', derived: size(payload) }, data: bytes(size) }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: 'text(long) + text(back) + text(music) + text(octal)', payload: { field: data } }
`);
    const bytes = new BytesBuilder()
      .raw('SP')
      .raw(Buffer.from('858000ff7f8148', 'hex'))
      .raw('  17 \0')
      .raw('000A')
      .raw('0123456789')
      .bytes();
    const archive = openWith(spelled, bytes);
    expect(archive.entries[0]!.path).toBe('5-120015');
    expect(proveArchive(archive, bare)).toMatchObject({ holds: true });
    expect(Buffer.from(withChange(archive, 0, 'x'.repeat(31))).toString('latin1', 9, 19)).toBe(
      '  17 \x00001F',
    );
    expect(failure(() => withChange(archive, 0, 'x'.repeat(70_000)))).toMatchObject({
      code: 'does-not-fit',
      facts: { fieldPath: 'head.size', expected: 'at most 4 digits of base 16' },
    });
  });

  test('signed bits, and a part that outgrows its width', () => {
    const packed = script(`
recognise: [{ at: 0, text: BT }]
records:
  head: { tag: text(2), word: { type: u16, bits: { size: { width: 5, derived: size(payload) }, shift: { width: 4, signed: true }, rest: 7 } }, data: bytes(size) }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: 'text(shift) + text(rest)', payload: { field: data } }
`);
    const bytes = new BytesBuilder()
      .raw('BT')
      .number((100 << 9) | (0b1101 << 5) | 3, 2)
      .raw('abc')
      .bytes();
    const archive = expectRoundTrip(packed, bytes, { '-3100': 'abc' }, bare, ['x', 'y'.repeat(31)]);
    expect(failure(() => withChange(archive, 0, 'y'.repeat(32)))).toMatchObject({
      code: 'does-not-fit',
      facts: { fieldPath: 'head.size', expected: 'a number of 5 bits' },
    });
  });
});
