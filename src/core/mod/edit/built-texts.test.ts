import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import fs from 'node:fs';
import { writeSongbook } from '../../../../demo/world/songbook-writer';
import { openArchive, type Archive } from '@/core/archive';
import { collect, memorySource } from '@/core/bytes';
import { parseScript } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { emit, planArchive } from '..';
import { editEntries } from './edit-entries';

/** Names that leave out what they share with the one before, in a table beside the entries, while entries go. */
const script = parseScript(fs.readFileSync('scripts/formats/songbook-peatfire.yaml', 'utf8'));
const key = Buffer.alloc(32, 7);
const options = { primitives: nodePrimitives, keys: new Map([['game', new Uint8Array(key)]]) };
const opened = (book: Uint8Array): Archive => openArchive(script, memorySource(book, 'a.songbook'), options);
const bookOf = (names: readonly string[]): Uint8Array =>
  writeSongbook(
    names.map((name) => {
      const data = Buffer.from(`${name}!`);
      // Two of four bits a byte, behind a head of four.
      return { name, codec: 'adpcm', rate: 8000, samples: Math.max(0, 2 * data.length - 8), data };
    }),
    key,
    Buffer.alloc(8, 1),
  ).book;
const without = (book: Uint8Array, isGone: (path: string) => boolean): Uint8Array => {
  const { entries } = opened(book);
  const removed = new Set(entries.filter(({ path }) => isGone(path)).map(({ index }) => index));
  const edited = editEntries(opened(book), { removed });
  const [file] = planArchive(edited.archive, new Map(), { edits: edited.marks }).files;
  const parts: Uint8Array[] = [];
  emit(file!, { write: (part) => void parts.push(part.slice()) });
  return new Uint8Array(Buffer.concat(parts));
};
/** Names of entries with what is in them. */
const held = (book: Uint8Array): Record<string, string> => {
  const archive = opened(book);
  return Object.fromEntries(
    archive.entries.map((entry) => [
      entry.path.replace(/\.adpcm$/, ''),
      Buffer.from(collect(archive.plain(entry))).toString(),
    ]),
  );
};

test.each([
  ['the first', ['a/aa']],
  ['one in the middle', ['a/ab']],
  ['several behind each other', ['a/aa', 'a/ab', 'a/abc']],
  ['every other', ['a/aa', 'a/abc', 'b']],
  ['the last', ['b/long/er']],
])('whoever goes, %s, the others are called what they were', (_who, gone) => {
  const names = ['a/aa', 'a/ab', 'a/abc', 'a/abd', 'b', 'b/long', 'b/long/er'];
  const left = names.filter((name) => !gone.includes(name));
  const made = without(bookOf(names), (path) => gone.some((name) => path === `${name}.adpcm`));
  expect(held(made)).toEqual(Object.fromEntries(left.map((name) => [name, `${name}!`])));
});

test('any names, whichever go, and then others after them', () => {
  const name = fc.stringMatching(/^[ab/]{1,6}$/);
  fc.assert(
    fc.property(
      fc.uniqueArray(name, { minLength: 3, maxLength: 12 }),
      fc.nat(),
      fc.nat(),
      (names, first, second) => {
        const goneAt = (seed: number) => (path: string) => {
          const at = names.indexOf(path.replace(/\.adpcm$/, ''));
          // One stays always.
          return at > 0 && ((seed >> at) & 1) === 1;
        };
        const once = without(bookOf(names), goneAt(first));
        const twice = without(once, goneAt(second));
        const left = names.filter((one) => !goneAt(first)(`${one}.adpcm`) && !goneAt(second)(`${one}.adpcm`));
        expect(held(twice)).toEqual(Object.fromEntries(left.map((one) => [one, `${one}!`])));
      },
    ),
    { numRuns: 60 },
  );
});
