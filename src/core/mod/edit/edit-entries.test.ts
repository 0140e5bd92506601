import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { openArchive, type Archive, type OpenOptions } from '@/core/archive';
import { collect, FormatError, memorySource, refOfBytes, refOfSpan, type BytesRef } from '@/core/bytes';
import { parseScript, type RecordNode, type Script } from '@/core/script';
import { nodePrimitives } from '@/platform/node/primitives';
import { anyFormat, anyItems, archiveOf, scriptOf, type Format } from '../../testing/generated-formats';
import { entriesOf, failure, holdBytes, keys, openBytes, options } from '../../testing/holds';
import { companionsIn, referenceScripts, SAMPLES } from '../../testing/reference-samples';
import { emit, planArchive, type FilePlan } from '../plan';
import { proveArchive } from '../prove';
import { proveBuild } from '../prove-build';
import { WAYS, type Way } from '../ways';
import { editEntries, type AddedEntry } from './edit-entries';

const textOf = (text: string): BytesRef => refOfBytes(Buffer.from(text));

function written(file: FilePlan): Uint8Array {
  const parts: Uint8Array[] = [];
  emit(file, { write: (bytes) => void parts.push(bytes.slice()) });
  return new Uint8Array(Buffer.concat(parts));
}

interface Edit {
  readonly added?: readonly (AddedEntry & { readonly text: string })[];
  readonly removed?: readonly number[];
  readonly changed?: Readonly<Record<number, string>>;
  readonly way?: Way;
  readonly rank?: number;
}

/** Edits an archive, writes it, opens it again and proves it against what it was. */
function edited(open: () => Archive, opening: OpenOptions, edit: Edit): Archive {
  const original = open();
  const { added = [], removed = [], changed = {}, way, rank } = edit;
  const made = editEntries(open(), { added, removed: new Set(removed), rank });
  const changes = new Map(made.added.map((number, i) => [number, textOf(added[i]!.text)]));
  for (const [old, text] of Object.entries(changed)) changes.set(made.newNumbers[Number(old)]!, textOf(text));
  const plan = planArchive(made.archive, changes, { edits: made.marks, ...(way && { way }) });
  const files = plan.files.map((file) => ({ file: file.file, bytes: written(file) }));
  plan.discard();
  const built = openArchive(original.script, memorySource(files[0]!.bytes, original.source.name), {
    ...opening,
    companion(fileName, name, number) {
      const found = files.find(({ file }) => file.type?.name === name && file.number === number);
      return found && memorySource(found.bytes, fileName);
    },
  });
  const proof = proveBuild(original, built, { changes, edited: made });
  expect(proof.claims.filter(({ holds }) => !holds)).toEqual([]);
  const again: OpenOptions = {
    ...opening,
    companion: (_fileName, name, number) =>
      built.files.find(({ type, number: own }) => type?.name === name && own === number)?.space.source,
  };
  expect(proveArchive(built, again).claims.filter(({ holds }) => !holds)).toEqual([]);
  return built;
}

const contents = (archive: Archive): Record<string, string> =>
  Object.fromEntries(
    archive.entries.map((entry) => [
      entry.path,
      Buffer.from(collect(archive.plain(entry)))
        .toString()
        .replace(/[.\0]*$/, ''),
    ]),
  );

/** Why formats of the reference take no new entry, or let none go. */
const CANNOT: Record<string, { add?: RegExp; remove?: RegExp }> = {
  chunks: { add: /stands in no list/, remove: /stands in no list/ },
  // Counts that the script does not derive.
  versions: { add: /how this name would be written/, remove: /2 entries have become 3/ },
  masked: { add: /entries have become 3/, remove: /2 entries have become 3/ },
  smaller: { add: /entries have become 3/, remove: /ends too early/ },
  sleeve: { add: /stands in no list/, remove: /stands in no list/ },
  print: { add: /stands in no list/, remove: /stands in no list/ },
  parallel: { add: /stands in no list/, remove: /stands in no list/ },
  pool: { add: /how this name would be written/ },
  folders: { add: /how this name would be written/ },
  tracks: { add: /lie in pieces/, remove: /lie in pieces/ },
};
/** Formats in which a name is only found behind others. */
const FIRST_STAYS = new Set(['folders', 'prefixes']);
const NEW_PATHS: Record<string, string> = { prefixes: 'lap/four' };

describe.each(Object.keys(SAMPLES))('%s', (name) => {
  const { bytes, beside, names = [], keys: ownKeys = {} } = SAMPLES[name]!();
  const path = NEW_PATHS[name] ?? 'four.txt';
  const opening: OpenOptions = {
    primitives: nodePrimitives,
    companion: companionsIn(beside),
    keys: new Map(Object.entries(ownKeys)),
    names: [...names, path],
  };
  const open = (): Archive =>
    openArchive(referenceScripts.get(name)!, memorySource(bytes, 'sample'), opening);
  const before = contents(open());
  const removed = FIRST_STAYS.has(name) ? 1 : 0;
  const left = Object.fromEntries(Object.entries(before).filter((_, i) => i !== removed));

  /** The reason for which it is refused, before it is written or by the proof. */
  const refusal = (edit: Edit): string => {
    try {
      edited(open, opening, edit);
    } catch (error) {
      return (error as Error).message;
    }
    throw new Error('it was not refused');
  };

  test('an entry is added, one is taken out, and both at once', () => {
    const { add, remove } = CANNOT[name] ?? {};
    const added = [{ path, text: 'a fourth one' }];
    if (add) expect(refusal({ added })).toMatch(add);
    else expect(contents(edited(open, opening, { added }))).toEqual({ ...before, [path]: 'a fourth one' });
    if (remove) expect(refusal({ removed: [removed] })).toMatch(remove);
    else expect(contents(edited(open, opening, { removed: [removed] }))).toEqual(left);
    if (add ?? remove) return;
    const other = removed === 0 ? 1 : 0;
    const both = edited(open, opening, { added, removed: [removed], changed: { [other]: 'x' } });
    const changed = Object.keys(before)[other]!;
    expect(contents(both)).toEqual({ ...left, [changed]: 'x', [path]: 'a fourth one' });
  });
});

const KEYED: OpenOptions = options;
const FILES = Object.fromEntries(
  Array.from({ length: 9 }, (_, i) => [`text/line-${i}.txt`, `the line number ${i} `.repeat(i + 1)]),
);

describe('a hold', () => {
  const bytes = holdBytes(entriesOf(FILES), { key: Buffer.from(keys.get('game')!) });
  const open = (): Archive => openBytes(bytes);

  test.each(['shifted', 'appended', 'packed'] as const)(
    'many are added and taken out of pages and the roll, %s',
    (way) => {
      const added = Array.from({ length: 20 }, (_, i) => ({
        path: `text/new/line-${i}.txt`,
        text: `new ${i}`.repeat(i),
      }));
      const built = edited(open, KEYED, { added, removed: [0, 4, 5, 6, 7], changed: { 2: 'changed' }, way });
      const gone = [0, 4, 5, 6, 7].map((i) => `text/line-${i}.txt`);
      const wanted = Object.fromEntries(Object.entries(FILES).filter(([path]) => !gone.includes(path)));
      wanted['text/line-2.txt'] = 'changed';
      for (const { path, text } of added) wanted[path] = text;
      expect(contents(built)).toEqual(wanted);
      expect(built.entries.every(({ named }) => named)).toBe(true);
    },
  );

  test('all but one are taken out, for an archive that loads last', () => {
    const all = open().entries.map(({ index }) => index);
    const built = edited(open, KEYED, { removed: all.filter((index) => index !== 3), rank: 77 });
    expect(contents(built)).toEqual({ 'text/line-3.txt': FILES['text/line-3.txt']!.trimEnd() + ' ' });
    expect(built.script.loadsBy).toEqual({ part: 'head', field: 'rank' });
    const head = built.context.part('head') as RecordNode;
    expect(head.get(head.type.byName.get('rank')!)).toBe(77);
    expect(built.source.length).toBeLessThan(bytes.length / 2);
  });

  test('what was taken out leaves nothing behind', () => {
    const once = edited(open, KEYED, { removed: [1, 8] });
    const sizes = (archive: Archive): number =>
      archive.coverage.gaps.reduce((sum, { length }) => sum + length, 0);
    expect(sizes(once)).toBeLessThanOrEqual(sizes(open()));
  });

  test('a path that is there is refused, whatever its case, and so is one with the hash of another', () => {
    const add = (path: string): string => failure(() => editEntries(open(), { added: [{ path }] })).message;
    expect(add('Text/LINE-3.txt')).toContain('does not have yet');
    expect(failure(() => editEntries(open(), { removed: new Set([99]) })).message).toContain('below 9');
    expect(failure(() => editEntries(open(), { added: [{ path: 'a', like: 99 }] })).message).toContain(
      'below 9',
    );
    const twice = [{ path: 'a.txt' }, { path: 'A.txt' }];
    expect(failure(() => editEntries(open(), { added: twice })).message).toContain('does not have yet');
  });

  test('a damaged archive is not edited', () => {
    const broken = bytes.slice();
    // The place of the first entry, in the first page, under the key: any other bytes point anywhere.
    broken[100] = broken[100]! ^ 0xff;
    expect(() => editEntries(openBytes(broken), { removed: new Set([0]) })).toThrow(FormatError);
  });
});

describe('archives of ordinary programs', () => {
  const scriptOf = (name: string): Script =>
    parseScript(fs.readFileSync(`scripts/formats/${name}.yaml`, 'utf8'));
  const making: Record<string, string> = {
    zip: 'zip -qr out.zip d',
    tar: 'tar cf out.tar d',
    cpio: 'find d -type f | sort | cpio -o -H newc > out.cpio 2>/dev/null',
    ar: 'ar rc out.ar d/*',
  };
  const listing: Record<string, string> = {
    zip: 'unzip -tq out.zip && unzip -p out.zip',
    tar: 'tar xOf out.tar',
    cpio: 'cpio -i --to-stdout < out.cpio 2>/dev/null',
    ar: 'ar p out.ar',
  };

  test.each(Object.keys(making))(
    '%s: the program reads what was added, and no longer what was taken out',
    (name) => {
      const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-test-'));
      try {
        fs.mkdirSync(path.join(folder, 'd'));
        for (const file of ['a.txt', 'b.txt', 'c.bin'])
          fs.writeFileSync(path.join(folder, 'd', file), `content of ${file} `.repeat(30));
        const run = (command: string): string =>
          execFileSync('sh', ['-c', command], { cwd: folder, encoding: 'utf8' });
        run(making[name]!);
        const file = path.join(folder, `out.${name}`);
        const bytes = new Uint8Array(fs.readFileSync(file));
        const script = scriptOf(name);
        const open = (): Archive =>
          openArchive(script, memorySource(bytes, 'out'), { primitives: nodePrimitives });
        const prefix = name === 'ar' ? '' : 'd/';
        const gone = open().entries.find((entry) => entry.path === `${prefix}b.txt`)!.index;
        const added = [{ path: `${prefix}newcomer.txt`, text: 'here since today' }];
        const built = edited(open, { primitives: nodePrimitives }, { added, removed: [gone] });
        fs.writeFileSync(file, collect(refOfSpan(built.source, 0, built.source.length)));
        expect(run(`${listing[name]!} ${prefix}newcomer.txt`)).toContain('here since today');
        expect(run(`${listing[name]!}`)).not.toContain('content of b.txt');
      } finally {
        fs.rmSync(folder, { recursive: true });
      }
    },
  );

  test('a name too long for its field is refused with its length', () => {
    const script = referenceScripts.get('box')!;
    const archive = openArchive(script, memorySource(SAMPLES.box!().bytes, 'sample'), {
      primitives: nodePrimitives,
    });
    expect(
      failure(() => editEntries(archive, { added: [{ path: 'a-very-long-name-indeed.txt' }] })).message,
    ).toContain('a name that fits its field');
  });
});

test('in any format of rows made up by chance what is added, changed and taken out comes out', () => {
  const format = anyFormat.map((one): Format => ({ ...one, rows: 'together' }));
  const bodiesOf = (archive: Archive): [string, string][] =>
    archive.entries.map((entry) => [
      entry.path,
      Buffer.from(collect(archive.plain(entry))).toString('latin1'),
    ]);
  fc.assert(
    fc.property(format, anyItems, fc.nat(), fc.constantFrom(...WAYS), (one, items, pick, way) => {
      fc.pre(items.length > 1);
      const script = parseScript(scriptOf(one));
      const bytes = archiveOf(one, items);
      const opening: OpenOptions = { primitives: nodePrimitives };
      const open = (): Archive => openArchive(script, memorySource(bytes, 'any'), opening);
      const gone = pick % items.length;
      const other = (gone + 1) % items.length;
      const names = new Set(items.map(({ name }) => name));
      const path = ['new', 'newer/one', 'z9/z'].find((name) => !names.has(name))!;
      const edit: Edit = {
        removed: [gone],
        added: [{ path, text: 'brand new' }],
        changed: { [other]: 'changed' },
        way,
      };
      // Names in a pool of their own are found by their place in it, which a script cannot turn round.
      if (one.name === 'pool') return void expect(failure(() => edited(open, opening, edit))).toBeDefined();
      const wanted = bodiesOf(open()).map(([name, body], i): [string, string] => [
        name,
        i === other ? 'changed' : body,
      ]);
      wanted.splice(gone, 1);
      wanted.push([path, 'brand new']);
      expect(bodiesOf(edited(open, opening, edit)).sort()).toEqual(wanted.sort());
    }),
    { numRuns: 60 },
  );
}, 60_000);
