import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { collect, refOfBytes } from '../bytes';
import { parseScript } from '../script';
import { emitted, entriesOf, holdBytes, holdScript, key, openBytes, options } from '../testing/holds';
import { planArchive, planSource, proveArchive, proveBuild } from './index';

const path = fc.stringMatching(/^[a-z]{1,8}(\/[a-z0-9_]{1,8}){0,2}\.[a-z]{3}$/);
const body = fc.oneof(
  fc.uint8Array({ maxLength: 400 }),
  fc.nat(80_000).map((length) => new Uint8Array(length).map((_, i) => (i * i) >> 7)),
);
const files = fc.dictionary(path, body, { minKeys: 1, maxKeys: 9 }).map((found) => {
  // The engine hashes lower case, so names that differ in case only would be one.
  const unique = new Map(
    Object.entries(found).map(([name, data]) => [name.toLowerCase(), Buffer.from(data)]),
  );
  return Object.fromEntries(unique);
});

describe('plans over generated holds', () => {
  test('reading gives what was written, and a proof holds', () => {
    fc.assert(
      fc.property(files, fc.boolean(), fc.boolean(), (given, keyed, roll) => {
        const archive = openBytes(
          holdBytes(entriesOf(given), { roll, ...(keyed && { key }) }),
          'x',
          undefined,
          { ...options, names: Object.keys(given) },
        );
        expect(archive.entries.map((entry) => entry.path)).toEqual(Object.keys(given));
        for (const entry of archive.entries)
          expect(Buffer.from(collect(archive.plain(entry))).equals(given[entry.path]!)).toBe(true);
        const proof = proveArchive(archive, { ...options, names: Object.keys(given) });
        expect(proof).toMatchObject({ holds: true });
      }),
      { numRuns: 20 },
    );
  });

  test('a changed entry reads back, the others stay as they are stored, and it can be undone', () => {
    fc.assert(
      fc.property(files, fc.nat(), body, fc.boolean(), (given, pick, data, keyed) => {
        const bytes = holdBytes(entriesOf(given), keyed ? { key } : {});
        const archive = openBytes(bytes);
        const index = pick % archive.entries.length;
        const changes = new Map([[index, refOfBytes(data)]]);
        const built = openBytes(emitted(planArchive(archive, changes)));
        expect(collect(built.plain(built.entries[index]!))).toEqual(data);
        expect(proveBuild(archive, built, { changes })).toMatchObject({ holds: true });
        // What is put back is packed anew, so only its plain bytes are the same again.
        const back = openBytes(
          emitted(planArchive(built, new Map([[index, archive.plain(archive.entries[index]!)]]))),
        );
        expect(collect(back.plain(back.entries[index]!))).toEqual(
          collect(archive.plain(archive.entries[index]!)),
        );
      }),
      { numRuns: 20 },
    );
  });
});

describe('plans', () => {
  const given = {
    'a/one.txt': 'one '.repeat(90),
    'a/two.bin': Buffer.alloc(150_000, 7),
    'b/three.txt': 'three',
    'b/four.txt': 'four',
    'c/five.txt': 'five',
  };

  test('a rewrite without changes is the same to the byte', () => {
    const bytes = holdBytes(entriesOf(given), { key });
    expect(Buffer.from(emitted(planArchive(openBytes(bytes)))).equals(bytes)).toBe(true);
  });

  test('the file of a plan can be read anywhere without being written', () => {
    const archive = openBytes(holdBytes(entriesOf(given)));
    const plan = planArchive(archive, new Map([[0, refOfBytes(Buffer.alloc(90_000, 'xyz'))]]));
    const whole = emitted(planArchive(archive, new Map([[0, refOfBytes(Buffer.alloc(90_000, 'xyz'))]])));
    const source = planSource(plan.files[0]!, 'plan');
    fc.assert(
      fc.property(fc.nat(whole.length), fc.nat(5000), (offset, length) => {
        const wanted = Math.min(length, whole.length - offset);
        expect(Buffer.from(source.read(offset, wanted)).equals(whole.subarray(offset, offset + wanted))).toBe(
          true,
        );
      }),
    );
    plan.discard();
  });

  test('bytes that no field explains are kept where they are', () => {
    const bytes = holdBytes(entriesOf(given));
    const archive = openBytes(bytes);
    const gap = archive.coverage.gaps[0]!;
    const marked = bytes.slice();
    marked.fill(0xee, gap.offset, gap.offset + gap.length);
    expect(Buffer.from(emitted(planArchive(openBytes(marked)))).equals(marked)).toBe(true);
  });

  test('a place that is carried instead of derived is found out by the proof', () => {
    const careless = parseScript(
      holdScript.text.replace('place: { type: u32, derived: place(payload) / UNIT }', 'place: u32'),
    );
    const archive = openBytes(holdBytes(entriesOf(given)), 'x', careless);
    const proof = proveArchive(archive, options);
    expect(proof.claims.map(({ holds }) => holds)).toEqual([true, true, false, false]);
  });

  test('a change of an entry that is not there is refused', () => {
    const archive = openBytes(holdBytes(entriesOf(given)));
    expect(() => planArchive(archive, new Map([[99, refOfBytes(new Uint8Array(1))]]))).toThrow(
      'an entry below 5',
    );
  });
});
