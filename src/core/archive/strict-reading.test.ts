import { describe, expect, test } from '@jest/globals';
import { crc32 } from '@node-rs/crc32';
import { openArchive, type Archive } from '.';
import { memorySource } from '../bytes';
import { parseScript } from '../script';
import { failure } from '../testing/holds';
import { bare } from '../testing/round-trip';

/** Reading tells what is false: every check that can be tried without going through all payloads is, and messages say where. */
const open = (script: string, bytes: string | Uint8Array): Archive =>
  openArchive(
    parseScript(`format script: 1\ntitle: Case\nrecognise: [{ at: 0, text: CASE }]\n${script}`),
    memorySource(typeof bytes === 'string' ? new Uint8Array(Buffer.from(bytes, 'latin1')) : bytes, 'sample'),
    bare,
  );
const crcOf = (text: string): string => {
  const bytes = Buffer.alloc(4);
  bytes.writeUInt32LE(crc32(Buffer.from(text, 'latin1')) >>> 0);
  return bytes.toString('latin1');
};
const masked = (text: string): string =>
  Buffer.from(Buffer.from(text, 'latin1').map((byte) => byte ^ 0x5a)).toString('latin1');

const INNER = `
records:
  all: { tag: text(4), check: { type: u32, derived: "crc32(span(0, filesize('inside'), 'inside'))" }, field: bytes(rest) }
  head: { count: { type: u8, derived: count(rows) }, rows: { type: row, count: count } }
  row: { name: text(4), at: { type: u8, derived: place(payload) }, length: { type: u8, derived: size(payload) } }
files: { inside: { of: all, field: field, seal: [{ xor: { key: "hex('5a')" } }] } }
parts: { all: { type: all, at: 0 }, head: { type: head, in: inside, at: 0 } }
entries: { each: head.rows, path: name, size: length, payload: { in: inside, at: at, size: length } }
`;

describe('a file inside a field', () => {
  const inside = '\x02one\0\x0d\x03two\0\x10\x05ONETWO..';

  test('is held against what is stated over all of it, before anybody reads an entry', () => {
    expect(open(INNER, `CASE${crcOf(inside)}${masked(inside)}`).leftToProof).toEqual([]);
    const flipped = inside.replace('TWO', 'TWX');
    const { code, facts } = failure(() => open(INNER, `CASE${crcOf(inside)}${masked(flipped)}`));
    expect([code, facts.fieldPath, facts.byteOffset]).toEqual(['derived-mismatch', 'all.check', 4]);
  });

  test('has places of its own in messages', () => {
    const beyond = inside.replace('\x10\x05', '\x10\x50');
    const [, second] = open(INNER, `CASE${crcOf(beyond)}${masked(beyond)}`).entries;
    expect(second!.problem!.message).toContain(
      'head.rows[1].length, byte 12 of what inside unseals to: points outside the file',
    );
    expect(second!.problem!.message).toContain('80 bytes from 16 for two');
  });
});

describe('messages', () => {
  const PLAIN = `
records:
  head: { tag: text(4), flags: { type: u16, bits: { spare: 3, number: { width: 5, derived: count(rows) }, more: 8 } }, rows: { type: row, count: 'number' } }
  row: { name: text(4), at: u8, length: u8 }
parts: { head: { type: head, at: 0 } }
entries: { each: head.rows, path: name, size: length, payload: { at: at, size: length } }
`;

  test('a bit field is named with the byte of its word', () => {
    const strict = PLAIN.replace("count: 'number'", "count: '2'");
    const error = failure(() => open(strict, 'CASE\x18\x00one\0\x12\x03two\0\x15\x05ONETWO..'));
    expect([error.facts.fieldPath, error.facts.byteOffset]).toEqual(['head.number', 4]);
  });

  test('a place outside names the place, a size that reaches outside the size', () => {
    const archive = open(PLAIN, 'CASE\x10\x00one\0\xf0\x03two\0\x15\x50ONETWO..');
    expect(
      archive.entries.map(({ problem }) => [problem!.facts.fieldPath, problem!.facts.byteOffset]),
    ).toEqual([
      ['head.rows[0].at', 10],
      ['head.rows[1].length', 17],
    ]);
  });

  test('a padding that is cut short is told; one that is left off at the end is none', () => {
    const padded = `
records:
  head: { tag: text(4), length: { type: u8, derived: size(payload) }, body: bytes(length), pad: align(8) }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'one'", size: length, payload: { field: body } }
`;
    expect(open(padded, 'CASE\x02ab\0').entries).toHaveLength(1);
    expect(open(padded, 'CASE\x02ab').entries).toHaveLength(1);
    expect(open(padded, 'CASE\x01a\0\0').entries).toHaveLength(1);
    const { code, facts } = failure(() => open(padded, 'CASE\x01a\0'));
    expect([code, facts.fieldPath]).toEqual(['truncated', 'head.pad']);
  });
});
