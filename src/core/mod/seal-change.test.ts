import { describe, expect, test } from '@jest/globals';
import zlib from 'node:zlib';
import { parseScript } from '../script';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import { openWith, textsOf, withChange } from '../testing/round-trip';
import { proveArchive } from './index';
import { nodePrimitives } from '@/platform/node/primitives';

/** Whether bytes are packed is told by their sizes, or by a flag that follows from these. */
const withRule = (rule: string, flag: string): ReturnType<typeof parseScript> =>
  parseScript(`
format script: 1
title: Sizes
recognise: [{ at: 0, text: SZ }]
records:
  head: { tag: text(2), rows: { type: row, count: rest } }
  row:
    ${flag}
    stored: { type: u16, derived: size(data) }
    plain: { type: u16, derived: size(plain(payload)) }
    data: bytes(stored)
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: text(position), size: plain, payload: { field: data, seal: [{ zlib: { size: plain }, if: ${rule} }] } }
`);

const FLAG = "flag: { type: u8, derived: 'if(stored < plain, 1, 0)' }";
const EASY = 'lamp '.repeat(50);
const HARD = Array.from({ length: 64 }, (_, i) => String.fromCharCode(33 + ((i * 37) % 90))).join('');

function bytesOf(texts: readonly string[], flagged: boolean): Uint8Array {
  const out = new BytesBuilder().raw('SZ');
  for (const text of texts) {
    const packed = zlib.deflateSync(text);
    const stored = packed.length < text.length ? packed : Buffer.from(text);
    if (flagged) out.number(stored === packed ? 1 : 0, 1);
    out.number(stored.length, 2).number(text.length, 2).raw(stored);
  }
  return out.bytes();
}

describe.each([
  ['told by the sizes', withRule('stored != plain', ''), false],
  ['told by a flag that follows from the sizes', withRule('flag', FLAG), true],
] as const)('%s', (_what, script, flagged) => {
  test.each([
    ['packed before, packs again', 0, 'oil '.repeat(60), true],
    ['packed before, stored now', 0, HARD, false],
    ['stored before, packed now', 1, EASY, true],
    ['stored before, stored again', 1, 'x', false],
    ['empty now', 0, '', false],
  ] as const)('%s', (_name, index, text, isPacked) => {
    const archive = openWith(script, bytesOf([EASY, HARD, 'end'], flagged));
    const built = openWith(script, withChange(archive, index, text));
    expect(textsOf(built)).toEqual([EASY, HARD, 'end'].map((old, i) => (i === index ? text : old)));
    expect(built.entries[index]!.storedSize < Math.max(1, text.length)).toBe(isPacked || text === '');
    expect(proveArchive(built, { primitives: nodePrimitives })).toMatchObject({ holds: true });
  });
});

test('conditions that no bytes can meet are told, and nothing is written', () => {
  // Packed where it is longer than plain: packing makes it shorter, storing makes it as long.
  const script = withRule('stored >= plain', '');
  const archive = openWith(
    script,
    new BytesBuilder()
      .raw('SZ')
      .number(zlib.deflateSync('x').length, 2)
      .number(1, 2)
      .raw(zlib.deflateSync('x'))
      .bytes(),
  );
  expect(textsOf(archive)).toEqual(['x']);
  expect(failure(() => withChange(archive, 0, EASY)).message).toMatch(
    /0: the format script is wrong .*other steps apply/,
  );
});
