import { describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import { proveArchive } from '../mod';
import {
  bare,
  expectCutsAreSeen,
  expectRoundTrip,
  openWith,
  textsOf,
  withChange,
} from '../testing/round-trip';
import { parseScript, type Script } from './index';

/** Every step of docs/first-script.md, as it stands there. */
const page = fs.readFileSync('docs/first-script.md', 'utf8');
const bytes = new Uint8Array(fs.readFileSync('docs/first-script/lamps.wick'));
const steps = new Map<string, Script>();
for (const [, name, text] of page.matchAll(/```yaml\n# step: (\w+)\n([\s\S]*?)```/g))
  steps.set(name!, parseScript(text!));

const SKIFF = 'A skiff for two, flat of keel.\n';
const README = 'Keep the wick trimmed.\n';
const BRASS = `${'A brass lamp. '.repeat(12)}\n`;

describe('the first script', () => {
  test('the page shows the bytes of the file that ships', () => {
    expect(page).toContain(`${bytes.length} bytes`);
    for (const [, at, digits] of page.matchAll(/^ {4}(\d{7}) ((?:[0-9a-f]{2} ){16})/gm))
      expect(Buffer.from(bytes.subarray(Number(at), Number(at) + 16)).toString('hex')).toBe(
        digits!.replaceAll(' ', ''),
      );
  });

  test('places: three entries, the second still packed', () => {
    const archive = openWith(steps.get('places')!, bytes);
    expect(archive.entries.map(({ path, storedSize }) => [path, storedSize])).toEqual([
      ['boats/skiff.txt', 31],
      ['lamps/brass.txt', 26],
      ['readme.txt', 23],
    ]);
    const [skiff, brass, readme] = textsOf(archive);
    expect([skiff, readme]).toEqual([SKIFF, README]);
    expect(brass!.startsWith('x')).toBe(true);
  });

  test('sealed: all can be read, and the proof tells what is missing', () => {
    const archive = openWith(steps.get('sealed')!, bytes);
    expect(textsOf(archive)).toEqual([SKIFF, BRASS, README]);
    const { holds, claims } = proveArchive(archive, bare);
    expect(holds).toBe(false);
    // The page shows what the proof says.
    expect(page).toContain(`holds  ${claims[0]!.claim}: ${claims[0]!.detail}`);
    expect(page).toContain(`holds  ${claims[1]!.claim}: ${claims[1]!.detail}`);
    expect(claims[2]!.holds).toBe(false);
  });

  test.each(['proved', 'strict'])('%s: in both directions, and it takes changes', (step) => {
    const script = steps.get(step)!;
    expectRoundTrip(script, bytes, {
      'boats/skiff.txt': SKIFF,
      'lamps/brass.txt': BRASS,
      'readme.txt': README,
    });
    expectCutsAreSeen(script, bytes);
    const built = openWith(
      script,
      withChange(openWith(script, bytes), 1, 'A tin lamp, and no brass at all.\n'),
    );
    expect(textsOf(built)).toEqual([SKIFF, 'A tin lamp, and no brass at all.\n', README]);
  });

  test.each(['proved', 'strict'])('%s: the proof adds an entry and takes one out', (step) => {
    const { holds, claims } = proveArchive(openWith(steps.get(step)!, bytes), bare);
    expect(holds).toBe(true);
    expect(claims.at(-1)!.detail).not.toMatch(/an entry (added|taken out) is refused/);
  });

  test('strict refuses what proved lets pass', () => {
    const failing = (change: (changed: Uint8Array) => Uint8Array): string => {
      const changed = change(bytes.slice());
      expect(() => openWith(steps.get('proved')!, changed)).not.toThrow();
      try {
        const archive = openWith(steps.get('strict')!, changed);
        return archive.entries.find(({ problem }) => problem)?.problem?.message ?? 'nothing';
      } catch (error) {
        return (error as Error).message;
      }
    };
    const withByte = (at: number, value: number) => (given: Uint8Array) => {
      given[at] = value;
      return given;
    };
    // The place of the second payload, a flag that nobody knows, bytes behind the table, a count that is too low.
    expect(failing(withByte(145, 0x30))).toMatch(/rows\[1\]\.at.*expected 44/);
    expect(failing(withByte(172, 7))).toMatch(/rows\[2\]\.packed/);
    expect(failing((given) => new Uint8Array([...given, 0, 0]))).toMatch(/head\.ends/);
    expect(failing(withByte(6, 2))).toMatch(/head\.ends/);
  });

  test('a wrong guess at a derived field is told with what was found', () => {
    const text = steps.get('proved')!.text.replace('crc32(plain(payload))', 'adler32(plain(payload))');
    const archive = openWith(parseScript(text), bytes);
    expect(() => textsOf(archive)).toThrow(/check.*does not hold/);
  });
});
