import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { refOfBytes } from '@/core/bytes';
import { planArchive } from '@/core/mod';
import { emitted, entriesOf, holdBytes, holdScript, openBytes, options } from '@/core/testing/holds';
import { openArchive } from '@/core/archive';
import { extractEntries, TargetNames } from './extract-files';
import { openFileSource } from './file-source';
import { isInside, resolveInside } from './inside';
import { readShelf, scriptFor } from './script-shelf';
import { createSpool } from './spool';
import { stagePlan } from './write-plan';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-files-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const at = (name: string): string => path.join(folder, name);

describe('a file as a source', () => {
  const bytes = new Uint8Array(3_000_000).map((_, i) => (i * 31) >> 3);
  fs.writeFileSync(at('source'), bytes);

  test('any stretch reads as it lies, small ones and large ones in any order', () => {
    const source = openFileSource(at('source'));
    fc.assert(
      fc.property(
        fc.nat(bytes.length),
        fc.oneof(fc.nat(64), fc.nat(100_000), fc.nat(2_000_000)),
        (offset, length) => {
          const wanted = Math.min(length, bytes.length - offset);
          expect(
            Buffer.from(source.read(offset, wanted)).equals(bytes.subarray(offset, offset + wanted)),
          ).toBe(true);
        },
      ),
      { numRuns: 200 },
    );
    source.close();
  });

  test('outside the file is an error that names it', () => {
    const source = openFileSource(at('source'), 'nice name');
    expect(() => source.read(bytes.length - 1, 2)).toThrow(`nice name, byte ${bytes.length - 1}`);
    expect(() => source.read(bytes.length + 5, 0)).toThrow('points outside the file');
    source.close();
  });

  test('what is read is a copy when it is sliced, not a view', () => {
    const source = openFileSource(at('source'));
    const kept = source.read(0, 16).slice();
    source.read(1_000_000, 16);
    expect([...kept]).toEqual([...bytes.subarray(0, 16)]);
    source.close();
  });

  test('a file that becomes shorter while it is read is said to have changed', () => {
    fs.writeFileSync(at('shrinks'), bytes);
    const source = openFileSource(at('shrinks'));
    fs.truncateSync(at('shrinks'), 100);
    expect(() => source.read(2_000_000, 100_000)).toThrow('has changed meanwhile');
    source.close();
  });
});

test('a spool leaves nothing behind and reads back what was written', () => {
  const before = fs.readdirSync(os.tmpdir()).length;
  const spool = createSpool();
  spool.write(Buffer.from('hello '));
  spool.write(Buffer.from('world'));
  expect(Buffer.from(spool.source.read(3, 5)).toString()).toBe('lo wo');
  expect(fs.readdirSync(os.tmpdir()).length).toBe(before);
  spool.discard();
});

describe('inside a folder', () => {
  fs.mkdirSync(at('root/inner'), { recursive: true });
  fs.writeFileSync(at('root/inner/file'), 'x');
  fs.symlinkSync('/etc', at('root/out'));
  fs.symlinkSync('inner', at('root/in'));

  test('what lies in it is found, through links that stay in it as well', () => {
    expect(resolveInside(at('root'), 'inner/file')).toBe(fs.realpathSync(at('root/inner/file')));
    expect(resolveInside(at('root'), 'in/file')).toBe(fs.realpathSync(at('root/inner/file')));
    expect(resolveInside(at('root'), 'inner/new/file')).toBe(
      path.join(fs.realpathSync(at('root/inner')), 'new/file'),
    );
  });

  test.each(['../x', '/etc/passwd', 'out/passwd', 'out', 'inner/../../x', ''])('%j is refused', (name) => {
    expect(() => resolveInside(at('root'), name)).toThrow('is not a path that may be written');
  });

  test('a folder with a like name is not inside', () => {
    expect(isInside('/a/b', '/a/bc')).toBe(false);
    expect(isInside('/a/b', '/a/b/c')).toBe(true);
    expect(isInside('/a/b', '/a/b')).toBe(true);
  });
});

describe('writing a plan', () => {
  const files = { 'a.txt': 'a'.repeat(3000), 'b.bin': Buffer.alloc(400_000, 9), 'c.txt': 'sea' };
  const bytes = holdBytes(entriesOf(files));
  fs.writeFileSync(at('source.hold'), bytes);

  test('gives the same bytes as streaming it, with progress to the end', () => {
    const source = openFileSource(at('source.hold'));
    const archive = openArchive(holdScript, source, options);
    const changes = new Map([[2, refOfBytes(Buffer.from('the wide sea'))]]);
    const plan = planArchive(archive, changes);
    let last = 0;
    const staged = stagePlan(
      plan,
      () => at('written.hold'),
      (done) => {
        expect(done).toBeGreaterThanOrEqual(last);
        last = done;
      },
    );
    expect(fs.existsSync(at('written.hold'))).toBe(false);
    staged.keep();
    expect(fs.readFileSync(at('written.hold')).equals(emitted(planArchive(openBytes(bytes), changes)))).toBe(
      true,
    );
    plan.discard();
    source.close();
  });

  test('stopped half way, nothing is left', () => {
    const source = openFileSource(at('source.hold'));
    const plan = planArchive(openArchive(holdScript, source, options));
    expect(() =>
      stagePlan(
        plan,
        () => at('stopped.hold'),
        () => {
          throw new Error('enough');
        },
      ),
    ).toThrow('enough');
    expect(fs.readdirSync(folder).filter((name) => name.includes('stopped'))).toEqual([]);
    plan.discard();
    source.close();
  });
});

describe('extraction', () => {
  const count = 300;
  const files = Object.fromEntries(
    Array.from({ length: count }, (_, i) => [`d${i % 7}/f${i}.txt`, `text ${i} `.repeat(i)]),
  );
  const bytes = holdBytes(entriesOf(files), { rowsPerPage: 50 });

  test('many at a time, told in order, all right', async () => {
    const archive = openBytes(bytes);
    const told: number[] = [];
    const done = await extractEntries(archive, archive.entries, at('many'), new TargetNames(), {
      onEntry: ({ entry }) => told.push(entry.index),
    });
    expect(done).toEqual({ written: count, failed: 0 });
    expect(told).toEqual(Array.from({ length: count }, (_, i) => i));
    for (const [name, text] of Object.entries(files))
      expect(fs.readFileSync(path.join(at('many'), name), 'utf8')).toBe(text);
  });

  test('ten thousand failures are ten thousand lines, not a crash', async () => {
    const broken = bytes.slice();
    const good = openBytes(bytes);
    for (const entry of good.entries) if (entry.storedSize > 8) broken[entry.offset + 5]! ^= 0xff;
    const archive = openBytes(broken);
    const thrice = Array.from({ length: 34 }, () => archive.entries.slice(1)).flat();
    const reasons: string[] = [];
    const done = await extractEntries(archive, thrice, at('broken'), new TargetNames(), {
      onEntry: ({ error }) => error && reasons.push(error.message),
    });
    expect(done.written + done.failed).toBe(thrice.length);
    expect(done.failed).toBe(reasons.length);
    expect(reasons.length).toBeGreaterThan(9000);
    expect(fs.readdirSync(at('broken')).filter((name) => name.endsWith('.part'))).toEqual([]);
  }, 60_000);

  test('stopped by the one who is told, it ends and leaves no half file', async () => {
    const archive = openBytes(bytes);
    const stop = extractEntries(archive, archive.entries, at('stopped'), new TargetNames(), {
      onEntry({ entry }) {
        if (entry.index === 40) throw new Error('enough');
      },
    });
    await expect(stop).rejects.toThrow('enough');
    const left = fs.readdirSync(at('stopped'), { recursive: true, encoding: 'utf8' });
    expect(left.filter((name) => name.endsWith('.part'))).toEqual([]);
  });

  test('names that differ in case only get names of their own', () => {
    const names = new TargetNames();
    expect([
      names.take('A/x.txt'),
      names.take('a/X.txt'),
      names.take('a/x.txt'),
      names.take('noending'),
      names.take('noending'),
    ]).toEqual(['A/x.txt', 'A/X~2.txt', 'A/x~3.txt', 'noending', 'noending~2']);
  });
});

test('the shelf knows every shipped script and finds the one for a file', () => {
  const shelf = readShelf('scripts/formats');
  expect(shelf.map(({ id }) => id)).toEqual(
    fs
      .readdirSync('scripts/formats')
      .sort()
      .map((name) => name.replace('.yaml', '')),
  );
  const source = openFileSource(at('source.hold'));
  expect(scriptFor(source, shelf).id).toBe('hold-peatfire-3');
  source.close();
  fs.writeFileSync(at('unknown'), 'nothing that is known');
  const unknown = openFileSource(at('unknown'), 'unknown');
  expect(() => scriptFor(unknown, shelf)).toThrow('unknown, byte 0: is not recognised');
  unknown.close();
});
