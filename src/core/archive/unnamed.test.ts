import { describe, expect, test } from '@jest/globals';
import { createCipheriv, createHash } from 'node:crypto';
import zlib from 'node:zlib';
import { nodePrimitives } from '@/platform/node/primitives';
import { parseScript } from '../script';
import { BytesBuilder } from '../testing/bytes-builder';
import { openWith } from '../testing/round-trip';
import { entryAsShown, typeOfEntry } from './index';

/** Entries without names, sealed in every way: the type is told from their first bytes, and hardly more is unpacked. */
const KEY = createHash('md5').update('lamp').digest();
const OGG = Buffer.concat([Buffer.from('OggS\0\x02'), Buffer.alloc(100_000, 'sound ')]);

const script = (seal: string) =>
  parseScript(`
format script: 1
title: Nameless
recognise: [{ at: 0, text: NL }]
keys: { lamp: { bytes: 16 } }
records:
  head: { tag: text(2), plain: u32, stored: u32, data: bytes(stored) }
parts: { head: { type: head, at: 0 } }
entries: { each: head, size: plain, payload: { field: data, seal: [${seal}] } }
`);

const aes = (bytes: Buffer, mode: 'ctr' | 'cbc'): Buffer => {
  const cipher = createCipheriv(`aes-128-${mode}`, KEY, Buffer.alloc(16)).setAutoPadding(false);
  return cipher.update(bytes.subarray(0, bytes.length - (mode === 'cbc' ? bytes.length % 16 : 0)));
};

const IV = "repeated(hex('00'), 16)";
/** Blocks with their sizes at the front or each before its own; those that would grow are stored as they are, with a mark in their size. */
function blocks(plain: Buffer, isFront: boolean): Buffer {
  const cut = Array.from({ length: Math.ceil(plain.length / 1000) }, (_, i) =>
    plain.subarray(i * 1000, (i + 1) * 1000),
  );
  const packed = cut.map((block) => {
    const small = zlib.deflateRawSync(block);
    const [bytes, mark] = small.length < block.length ? [small, 0] : [block, 0x8000_0000];
    const size = Buffer.alloc(4);
    size.writeUInt32LE(mark + bytes.length);
    return { size, bytes };
  });
  if (!isFront) return Buffer.concat(packed.flatMap(({ size, bytes }) => [size, bytes]));
  return Buffer.concat([...packed.map(({ size }) => size), ...packed.map(({ bytes }) => bytes)]);
}

const SEALS: [string, (plain: Buffer) => Buffer][] = [
  ['', (plain) => plain],
  ['{ deflate: { size: plain } }', (plain) => zlib.deflateRawSync(plain)],
  ['{ zlib: { size: plain } }', (plain) => zlib.deflateSync(plain)],
  ['{ gzip: { size: plain } }', (plain) => zlib.gzipSync(plain)],
  ['{ brotli: { size: plain } }', (plain) => zlib.brotliCompressSync(plain)],
  [`{ aes-ctr: { key: key.lamp, iv: "${IV}" } }`, (plain) => aes(plain, 'ctr')],
  [
    `{ aes-ctr: { key: key.lamp, iv: "${IV}" } }, { deflate: { size: plain } }`,
    (plain) => aes(zlib.deflateRawSync(plain), 'ctr'),
  ],
  [
    '{ blocks: { plain: 1000, total: plain, table: u32, raw bit: 31, codec: deflate } }',
    (plain) => blocks(plain, true),
  ],
  [
    '{ blocks: { plain: 1000, total: plain, each: u32, raw bit: 31, codec: deflate } }',
    (plain) => blocks(plain, false),
  ],
  [
    `{ aes-ctr: { key: key.lamp, iv: "${IV}" } }, { blocks: { plain: 1000, total: plain, table: u32, raw bit: 31, codec: deflate } }`,
    (plain) => aes(blocks(plain, true), 'ctr'),
  ],
];

describe.each(SEALS)('sealed by [%s]', (seal, sealed) => {
  const options = { primitives: nodePrimitives, keys: new Map([['lamp', new Uint8Array(KEY)]]) };
  const open = (plain: Buffer, change = (bytes: Buffer): Buffer => bytes) => {
    const stored = change(sealed(plain));
    const out = new BytesBuilder().raw('NL').number(plain.length, 4).number(stored.length, 4).raw(stored);
    return openWith(script(seal), out.bytes(), options);
  };

  test('is shown with the ending of what it is, under a path that stays', () => {
    const archive = open(OGG);
    const [entry] = archive.entries;
    expect(typeOfEntry(archive, entry!)).toEqual({ kind: 'sound', ending: 'ogg' });
    expect(entryAsShown(archive, entry!).path).toBe('unnamed/0.ogg');
    expect(entry!.path).toBe('unnamed/0');
  });

  test('short, unknown and broken ones are shown as they are', () => {
    for (const archive of [
      open(Buffer.from('Og')),
      open(Buffer.from('nothing that is known')),
      open(OGG, (bytes) => Buffer.from(bytes).fill(0xfe)),
    ])
      expect(entryAsShown(archive, archive.entries[0]!).path).toBe('unnamed/0');
  });
});
