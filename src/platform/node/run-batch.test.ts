import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { openArchive, type Archive } from '@/core/archive';
import { memorySource } from '@/core/bytes';
import { entriesOf, holdBytes } from '@/core/testing/holds';
import { FolderWriter } from './folder-writer';
import { planTask } from './plan-task';
import { nodePrimitives } from './primitives';
import { runBatch, sourceOf, type BatchTask, type TaskOutcome } from './run-batch';
import { readShelf, scriptFor } from './script-shelf';
import { WrittenFolder } from './written-folder';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'batch-'));
afterAll(() => fs.rmSync(root, { recursive: true }));
let folder = '';
let number = 0;
beforeEach(() => {
  folder = path.join(root, String(++number));
});

const shelf = readShelf();
function open(bytes: Uint8Array): Archive {
  const source = memorySource(bytes, 'a.hold');
  return openArchive(scriptFor(source, shelf).script, source, { primitives: nodePrimitives });
}
const holdOf = (files: Record<string, string>): Archive => open(holdBytes(entriesOf(files)));
const context = { mediaScripts: () => undefined, check: () => undefined };

/** A run over all of an archive, as worker and command line do it; the archive's file has the given state. */
async function run(
  archive: Archive,
  state: string,
  conversion: BatchTask['conversion'] = 'stored',
): Promise<Record<string, TaskOutcome>> {
  const out = new WrittenFolder(folder);
  const writer = new FolderWriter(out.root, 'w');
  const outcomes: Record<string, TaskOutcome> = {};
  try {
    const tasks: BatchTask[] = [];
    for (const { index, path: entry, storedSize } of archive.entries) {
      const source = sourceOf(state, { index, storedSize }, false);
      const wanted = { index, path: entry, storedSize, file: entry, by: '1:1', source, conversion };
      const planned = planTask(out, wanted, 'keep');
      if ('told' in planned) outcomes[entry] = [planned.told, planned.reason, 0];
      else tasks.push(planned);
    }
    const about = { by: '1:1', archive: 'a.hold', isLoose: false };
    const told = await runBatch(archive, about, tasks, () => state, writer, context);
    for (const [i, outcome] of told.entries()) outcomes[tasks[i]!.path] = outcome;
  } finally {
    writer.close();
    out.close();
  }
  return outcomes;
}
const reasons = (outcomes: Record<string, TaskOutcome>): string[] =>
  Object.entries(outcomes)
    .map(([name, [state, reason]]) => `${name} ${state}: ${reason}`)
    .sort();
const read = (file: string): string => fs.readFileSync(path.join(folder, file), 'utf8');

describe('a batch', () => {
  test('each outcome is told of its own entry, however many there are and whichever fail', async () => {
    const count = 150;
    const files = Object.fromEntries(
      Array.from({ length: count }, (_, i) => [`d/${i}.bin`, `content ${i} ${'x'.repeat(i * 37)}`]),
    );
    const bytes = holdBytes(entriesOf(files).map((entry) => ({ ...entry, loose: true })));
    await fc.assert(
      fc.asyncProperty(fc.uniqueArray(fc.nat(count - 1), { maxLength: 40 }), async (broken) => {
        folder = path.join(root, String(++number));
        const copy = Buffer.from(bytes);
        for (const i of broken) copy[copy.indexOf(`content ${i} `)] = 0x43;
        const outcomes = await run(open(copy), '1 1');
        for (let i = 0; i < count; i++) {
          const name = `d/${i}.bin`;
          const [state, reason, size] = outcomes[name]!;
          if (broken.includes(i)) {
            expect(state).toBe('failed');
            expect(reason).toContain(name);
            expect(fs.existsSync(path.join(folder, name))).toBe(false);
          } else {
            expect([state, size]).toEqual(['written', Buffer.byteLength(files[name]!)]);
            expect(read(name)).toBe(files[name]);
          }
        }
        expect(fs.readdirSync(path.join(folder, 'd')).some((name) => name.includes('part'))).toBe(false);
      }),
      { numRuns: 12 },
    );
  });

  test('what is the same is known by the archive, its checksum, or the content, in this order', async () => {
    const files = { 'a.txt': 'one', 'b.txt': 'two' };
    expect(reasons(await run(holdOf(files), '1 1'))).toEqual(['a.txt written: new', 'b.txt written: new']);
    expect(reasons(await run(holdOf(files), '1 1'))).toEqual([
      'a.txt skipped: the archive is as it was',
      'b.txt skipped: the archive is as it was',
    ]);
    // Another file of the archive, with other things in it.
    expect(reasons(await run(holdOf({ ...files, 'b.txt': 'changed', 'c.txt': 'new' }), '2 2'))).toEqual([
      'a.txt skipped: the archive states the same checksum',
      'b.txt written: changed',
      'c.txt written: new',
    ]);
    // Noted as right under the new state, so that the next run does not even ask for the checksum.
    expect(reasons(await run(holdOf({ ...files, 'b.txt': 'changed', 'c.txt': 'new' }), '2 2'))[0]).toBe(
      'a.txt skipped: the archive is as it was',
    );
    // Another way to be converted gives the same bytes.
    expect(reasons(await run(holdOf({ 'a.txt': 'one' }), '2 2', 'utf-8'))).toEqual([
      'a.txt skipped: its content is the same',
    ]);
    fs.writeFileSync(path.join(folder, 'a.txt'), 'mine');
    expect(reasons(await run(holdOf({ 'a.txt': 'three' }), '3 3', 'utf-8'))).toEqual([
      'a.txt kept: somebody changed the file',
    ]);
    expect(read('a.txt')).toBe('mine');
  });

  test('an archive that states nothing is compared by its stored bytes', async () => {
    const tar = (text: string): Archive => {
      const work = fs.mkdtempSync(path.join(root, 'tar-'));
      fs.writeFileSync(path.join(work, 'a.txt'), text);
      fs.utimesSync(path.join(work, 'a.txt'), 1000, 1000);
      const block = Buffer.alloc(512);
      block.write('a.txt');
      block.write('0000644\0', 100);
      block.write('0000000\0', 108);
      block.write('0000000\0', 116);
      block.write(`${text.length.toString(8).padStart(11, '0')}\0`, 124);
      block.write('00000001750\0', 136);
      block.write('        0', 148);
      block.write('ustar\x0000', 257);
      const sum = block.reduce((all, byte) => all + byte, 0);
      block.write(`${sum.toString(8).padStart(6, '0')}\0 `, 148);
      const body = Buffer.alloc(512);
      body.write(text);
      return open(Buffer.concat([block, body, Buffer.alloc(1024)]));
    };
    expect(reasons(await run(tar('one'), '1 1'))).toEqual(['a.txt written: new']);
    expect(fs.statSync(path.join(folder, 'a.txt')).mtimeMs).toBe(1_000_000);
    expect(reasons(await run(tar('one'), '2 2'))).toEqual(['a.txt skipped: its stored bytes are the same']);
    expect(reasons(await run(tar('two'), '3 3'))).toEqual(['a.txt written: changed']);
  });

  test('an error of the folder ends it, and what was whole by then keeps its place', async () => {
    const archive = holdOf({ 'a.txt': 'one', 'b.txt': 'two' });
    const out = new WrittenFolder(folder);
    let pieces = 0;
    const full = (): void => {
      if (++pieces > 1) throw Object.assign(new Error('full'), { code: 'ENOSPC' });
    };
    const writer = new FolderWriter(out.root, 'w', full);
    const tasks = archive.entries.map(({ index, path: entry, storedSize }): BatchTask => ({
      ...{ index, path: entry, file: entry, storedSize, conversion: 'stored', seen: null },
    }));
    const about = { by: '1:1', archive: 'a.hold', isLoose: false };
    await expect(runBatch(archive, about, tasks, () => '1 1', writer, context)).rejects.toThrow('full');
    writer.close();
    out.close();
    expect(fs.readdirSync(folder).sort()).toEqual(['.zero-latch-ledger', 'a.txt']);
    expect(reasons(await run(archive, '1 1'))).toEqual([
      'a.txt skipped: the archive is as it was',
      'b.txt written: new',
    ]);
  });

  test('a batch that is done anew takes what the writer before it left, and keeps what somebody changed', async () => {
    const archive = holdOf({ 'a.txt': 'one', 'b.txt': 'two', 'c.txt': 'three' });
    const tasks = archive.entries.map(({ index, path: entry, storedSize }): BatchTask => ({
      ...{ index, path: entry, file: entry, storedSize, conversion: 'stored', seen: null },
    }));
    const about = { by: '1:1', archive: 'a.hold', isLoose: false };
    const out = new WrittenFolder(folder);
    const first = new FolderWriter(out.root, 'killed');
    await runBatch(archive, about, tasks.slice(0, 2), () => '1 1', first, context);
    first.close();
    fs.writeFileSync(path.join(folder, 'b.txt'), 'own');
    const second = new FolderWriter(out.root, 'again');
    const outcomes = await runBatch(archive, about, tasks, () => '1 1', second, context);
    second.close();
    out.close();
    expect(outcomes.map(([state]) => state)).toEqual(['written', 'kept', 'written']);
    expect(fs.readFileSync(path.join(folder, 'b.txt'), 'utf8')).toBe('own');
  });

  test('an entry that is gone from its archive is said', async () => {
    const out = new WrittenFolder(folder);
    const writer = new FolderWriter(out.root, 'w');
    const task: BatchTask = {
      ...{ index: 7, path: 'x.txt', file: 'x.txt', storedSize: 1, conversion: 'stored', seen: null },
    };
    const about = { by: '1:1', archive: 'a.hold', isLoose: false };
    const [outcome] = await runBatch(holdOf({ 'a.txt': 'one' }), about, [task], () => '', writer, context);
    expect(outcome).toEqual(['failed', expect.stringMatching(/x\.txt.*no longer in its archive/), 0]);
    writer.close();
    out.close();
  });
});
