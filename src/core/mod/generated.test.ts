import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { refOfBytes } from '../bytes';
import { parseScript } from '../script';
import {
  anyFormat,
  anyItems,
  archiveOf,
  scriptOf,
  type Format,
  type Item,
} from '../testing/generated-formats';
import { emitted } from '../testing/holds';
import { bare, changed, expectCutsAreSeen, openWith } from '../testing/round-trip';
import { collect } from '../bytes';
import type { Archive } from '../archive';
import { planArchive, proveArchive, WAYS } from '.';

/** Parallel lists need a number of entries, and rows with ended names a count or a size. */
const format = anyFormat.map((one): Format => (one.rows === 'parallel' ? { ...one, counted: true } : one));
const RUNS = Number(process.env.ZERO_LATCH_FORMATS ?? 100);

const open = (one: Format, items: readonly Item[]): Archive =>
  openWith(parseScript(scriptOf(one)), archiveOf(one, items));

const bodies = (archive: Archive): Buffer[] =>
  archive.entries.map((entry) => Buffer.from(collect(archive.plain(entry))));

describe('formats by chance', () => {
  test('are read as they were written', () => {
    fc.assert(
      fc.property(format, anyItems, (one, items) => {
        const archive = open(one, items);
        expect(archive.entries.map(({ path }) => path)).toEqual(items.map(({ name }) => name));
        expect(bodies(archive)).toEqual(items.map(({ data }) => data));
      }),
      { numRuns: RUNS },
    );
  }, 60_000);

  test('are written as they were read, and made anew with the same entries', () => {
    fc.assert(
      fc.property(format, anyItems, (one, items) => {
        const archive = open(one, items);
        expect(Buffer.from(emitted(planArchive(archive)))).toEqual(Buffer.from(archiveOf(one, items)));
        expect(proveArchive(archive, bare).claims.filter(({ holds }) => !holds)).toEqual([]);
      }),
      { numRuns: RUNS },
    );
  }, 60_000);

  test('take a change of one entry in every way, and nothing else changes', () => {
    fc.assert(
      fc.property(
        format,
        anyItems,
        fc.nat(),
        fc.string({ maxLength: 200 }),
        fc.constantFrom(...WAYS),
        (one, items, pick, text, way) => {
          const archive = open(one, items);
          const index = pick % items.length;
          const built = changed(archive, index, text, bare, way);
          const expected = items.map(({ data }) => data);
          expected[index] = Buffer.from(text);
          expect(bodies(built)).toEqual(expected);
          expect(proveArchive(built, bare)).toMatchObject({ holds: true });
          // What the script keeps is kept.
          if (way === 'shifted') {
            const back = planArchive(built, new Map([[index, refOfBytes(items[index]!.data)]]));
            expect(openWith(archive.script, emitted(back)).entries.map(({ path }) => path)).toEqual(
              items.map(({ name }) => name),
            );
          }
        },
      ),
      { numRuns: RUNS },
    );
  }, 90_000);

  test('cut at any byte are refused in words or mark what is missing', () => {
    fc.assert(
      fc.property(format, anyItems, (one, items) => {
        expectCutsAreSeen(parseScript(scriptOf(one)), archiveOf(one, items), bare, 3);
      }),
      { numRuns: Math.ceil(RUNS / 10) },
    );
  }, 60_000);
});
