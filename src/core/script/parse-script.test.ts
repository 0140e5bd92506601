import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError } from '../bytes';
import { holdScript } from '../testing/holds';
import { parseScript } from './index';

const text = holdScript.text;

function complaint(change: (script: string) => string): FormatError['facts'] {
  const changed = change(text);
  expect(changed).not.toBe(text);
  try {
    parseScript(changed);
  } catch (error) {
    if (error instanceof FormatError) return error.facts;
    throw error;
  }
  throw new Error('nothing was wrong');
}

const lineOf = (part: string): number => text.slice(0, text.indexOf(part)).split('\n').length;

describe('mistakes in a script', () => {
  test('a misspelt field in an expression has line, column and a suggestion', () => {
    const facts = complaint((s) => s.replace('size: rowCount * 48', 'size: rowCuont * 48'));
    expect(facts.line).toBe(lineOf('size: rowCount * 48'));
    expect(facts.column).toBe(text.split('\n')[facts.line! - 1]!.indexOf('rowCount') + 1);
    expect(facts.remedy).toBe("Did you mean 'rowCount'?");
  });

  test.each([
    ['a type', (s: string) => s.replace('nameHash: u64', 'nameHash: u65'), "Did you mean 'u64'?"],
    ['a word', (s: string) => s.replace('recognise:', 'recognize:'), "Did you mean 'recognise'?"],
    ['a codec', (s: string) => s.replace('codec: deflate', 'codec: defalte'), "Did you mean 'deflate'?"],
    ['a hash', (s: string) => s.replace('function: fnv1a64', 'function: fnv1a6'), "Did you mean 'fnv1a64'?"],
    ['a key', (s: string) => s.replace('proves: game', 'proves: gane'), "Did you mean 'game'?"],
    [
      'a record',
      (s: string) => s.replace('mirror: { type: mirror', 'mirror: { type: miror'),
      "Did you mean 'mirror'?",
    ],
    ['an encoding', (s: string) => s.replace('ztext(utf-8)', 'ztext(utf-9)'), "Did you mean 'utf-8'?"],
  ])('a misspelt %s gets a suggestion', (_what, change, remedy) => {
    const facts = complaint(change);
    expect(facts.remedy).toBe(remedy);
    expect(facts.line).toBeGreaterThan(0);
  });

  test.each([
    ['a version of tomorrow', (s: string) => s.replace('format script: 1', 'format script: 9'), 'version 1'],
    [
      'two roles',
      (s: string) =>
        s.replace('version: { type: u16, fixed: 3 }', 'version: { type: u16, fixed: 3, derived: 3 }'),
      'only one of',
    ],
    ['no entries', (s: string) => s.slice(0, s.indexOf('entries:')), "'entries' in here"],
    [
      'a doubled name',
      (s: string) => s.replace('    flags: u16', '    flags: u16\n    flags: u16'),
      undefined,
    ],
    ['broken YAML', (s: string) => `${s}\n  - [`, undefined],
    [
      'a record in itself',
      (s: string) => s.replace('salt: bytes(16)', 'salt: bytes(16)\n    again: head'),
      'records that end',
    ],
    [
      'a seal without a size',
      (s: string) => s.replace('      size: storedSize\n', ''),
      "'size', the stored bytes",
    ],
    [
      'a cipher without its iv',
      (s: string) => s.replace('          iv: head.salt\n', ''),
      'an iv of 16 bytes',
    ],
  ])('%s is refused with its line', (_what, change, expected) => {
    const facts = complaint(change);
    expect(facts.line).toBeGreaterThan(0);
    if (expected) expect(facts.expected).toContain(expected);
  });

  test('a script with any lines taken out or doubled is read or refused, never worse', () => {
    const lines = text.split('\n');
    fc.assert(
      fc.property(fc.nat(lines.length - 1), fc.nat(6), fc.boolean(), (at, count, double) => {
        const changed = [
          ...lines.slice(0, at),
          ...(double ? lines.slice(at, at + count) : []),
          ...lines.slice(at + (double ? 0 : count)),
        ];
        try {
          parseScript(changed.join('\n'));
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      }),
    );
  });
});
