import { describe, expect, test } from '@jest/globals';
import { readScriptFile } from '@/platform/node/script-shelf';
import { BytesBuilder } from '../testing/bytes-builder';
import { failure } from '../testing/holds';
import { expectCutsAreSeen, expectRoundTrip, openWith, textsOf, withChange } from '../testing/round-trip';

const script = readScriptFile('scripts/formats/cpio.yaml');

/** An archive as the description of the format has it (cpio(5), newc and crc). */
function cpio(tag: '070701' | '070702', members: readonly [string, number, string][]): Uint8Array {
  const out = new BytesBuilder();
  const hex = (value: number): string => value.toString(16).toUpperCase().padStart(8, '0');
  [...members, ['TRAILER!!!', 0, ''] as [string, number, string]].forEach(([name, mode, data], i) => {
    const sum = [...Buffer.from(data)].reduce((all, byte) => all + byte, 0);
    const check = tag === '070702' && (mode & 0xf000) === 0x8000 ? sum : 0;
    const numbers = [i + 1, mode, 0, 0, 1, 0x5fe63000, data.length, 8, 1, 0, 0, name.length + 1, check];
    out.raw(tag).raw(numbers.map(hex).join('')).raw(`${name}\0`);
    out.fill(Math.ceil(out.length / 4) * 4);
    out.raw(data).fill(Math.ceil(out.length / 4) * 4);
  });
  return out.fill(Math.ceil(out.length / 512) * 512).bytes();
}

const MEMBERS: [string, number, string][] = [
  ['lamp', 0o040755, ''],
  ['lamp/one.txt', 0o100644, 'the first lamp'],
  ['./two.txt', 0o100644, 'two'],
  ['link', 0o120777, 'lamp/one.txt'],
  ['empty', 0o100600, ''],
];

describe.each(['070701', '070702'] as const)('CPIO %s', (tag) => {
  const bytes = cpio(tag, MEMBERS);

  test('files are entries, and all of it goes both ways', () => {
    const archive = expectRoundTrip(script, bytes, {
      'lamp/one.txt': 'the first lamp',
      'two.txt': 'two',
      empty: '',
    });
    expect(archive.entries[0]!.modified).toBe(0x5fe63000);
    expect(archive.coverage).toMatchObject({ explained: bytes.length, gaps: [] });
  });

  test('a longer file moves what follows, and its numbers are spelled as before', () => {
    const changed = withChange(openWith(script, bytes), 0, 'a lamp of another length');
    const wanted = MEMBERS.map((member): (typeof MEMBERS)[number] =>
      member[0] === 'lamp/one.txt' ? [member[0], member[1], 'a lamp of another length'] : member,
    );
    const made = cpio(tag, wanted);
    // The filling at the very end is kept as it was.
    const trailer = Buffer.from(made).indexOf('TRAILER!!!') + 12;
    // Digits above nine are spelled as the field had them; one that had none gets small ones.
    const spelled = (of: Uint8Array): string =>
      Buffer.from(of.subarray(0, trailer)).toString('latin1').toLowerCase();
    expect(spelled(changed)).toBe(spelled(made));
    expect(textsOf(openWith(script, changed))).toEqual(['a lamp of another length', 'two', '']);
  });

  test('cut anywhere', () => expectCutsAreSeen(script, bytes));
});

test('a wrong sum is told with its place', () => {
  const bytes = cpio('070702', MEMBERS);
  bytes[Buffer.from(bytes).indexOf('the first')]! ^= 1;
  expect(failure(() => openWith(script, bytes)).message).toMatch(/members\[1\]\.check, byte \d+/);
});
