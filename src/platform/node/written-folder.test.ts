import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { refOfBytes } from '@/core/bytes';
import { TargetNames } from './extract-files';
import { WrittenFolder } from './written-folder';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'written-'));
afterAll(() => fs.rmSync(root, { recursive: true }));
let folder = '';
let number = 0;
beforeEach(() => {
  folder = path.join(root, String(++number));
});

const about = { by: '1:1', path: 'a', archive: 'h', source: 's', stated: '', stored: '', settings: 'stored' };
const put = (out: WrittenFolder, file: string, text: string, isOurs = false): boolean =>
  out.write(file, refOfBytes(Buffer.from(text)), about, 1_700_000_000, isOurs);
const read = (file: string): string => fs.readFileSync(path.join(folder, file), 'utf8');

describe('a folder that runs write into', () => {
  test('knows its files again, and tells those of others and edited ones', () => {
    const out = new WrittenFolder(folder);
    put(out, 'deep/er/a.txt', 'one');
    put(out, 'b.txt', 'two');
    fs.writeFileSync(path.join(folder, 'other.txt'), 'x');
    out.close();
    expect(fs.statSync(path.join(folder, 'b.txt')).mtimeMs).toBe(1_700_000_000_000);
    const again = new WrittenFolder(folder);
    expect(again.standing('b.txt')).toBe('ours');
    expect(again.standing('other.txt')).toBe('foreign');
    expect(again.standing('none.txt')).toBe('free');
    // Touched, but with the same content.
    fs.utimesSync(path.join(folder, 'b.txt'), 5, 5);
    expect(again.standing('b.txt')).toBe('ours');
    fs.writeFileSync(path.join(folder, 'b.txt'), 'own');
    expect(again.standing('b.txt')).toBe('edited');
    again.close();
  });

  test('the same content is not written again', () => {
    const out = new WrittenFolder(folder);
    expect(put(out, 'a.txt', 'one')).toBe(true);
    const { ino } = fs.statSync(path.join(folder, 'a.txt'));
    expect(put(out, 'a.txt', 'one', true)).toBe(false);
    expect(fs.statSync(path.join(folder, 'a.txt')).ino).toBe(ino);
    expect(put(out, 'a.txt', 'two', true)).toBe(true);
    expect(read('a.txt')).toBe('two');
    out.close();
    expect(fs.readFileSync(path.join(folder, '.zero-latch-ledger'), 'utf8').trim().split('\n')).toHaveLength(
      1,
    );
  });

  test('a failure in the middle leaves neither the file nor a part of it', () => {
    const out = new WrittenFolder(folder);
    put(out, 'a.txt', 'one');
    const broken = {
      length: 10,
      *chunks(): Generator<Uint8Array> {
        yield Buffer.from('half');
        throw new Error('gone');
      },
    };
    expect(() => out.write('a.txt', broken, about, undefined, false)).toThrow('gone');
    expect(read('a.txt')).toBe('one');
    expect(fs.readdirSync(folder).sort()).toEqual(['.zero-latch-ledger', 'a.txt']);
    out.close();
  });

  test('a kill between the ledger and the name leaves nothing wrong', () => {
    const out = new WrittenFolder(folder);
    put(out, 'a.txt', 'one');
    // The line is there, the file has not got its name; and a last line that is cut.
    fs.rmSync(path.join(folder, 'a.txt'));
    fs.appendFileSync(path.join(folder, '.zero-latch-ledger'), '{"file":"b.t');
    const again = new WrittenFolder(folder);
    expect(again.standing('a.txt')).toBe('free');
    put(again, 'c.txt', 'three');
    again.close();
    const last = new WrittenFolder(folder);
    expect([...last.known.keys()].sort()).toEqual(['a.txt', 'c.txt']);
    last.close();
  });

  test('links that lead out are not followed', () => {
    const out = new WrittenFolder(folder);
    const elsewhere = path.join(root, `elsewhere-${number}`);
    fs.mkdirSync(elsewhere);
    fs.symlinkSync(elsewhere, path.join(folder, 'out'));
    expect(() => put(out, 'out/a.txt', 'x')).toThrow(/leads out/);
    expect(fs.readdirSync(elsewhere)).toEqual([]);
    fs.symlinkSync(path.join(elsewhere, 'target.txt'), path.join(folder, 'b.txt'));
    expect(out.standing('b.txt')).toBe('foreign');
    out.close();
  });
});

describe('names of files', () => {
  const taken = (...names: string[]): string[] => {
    const target = new TargetNames();
    return names.map((name) => target.take(name));
  };

  test('no two are the same in any case', () => {
    expect(taken('a/B.txt', 'a/b.txt', 'A/b.TXT')).toEqual(['a/B.txt', 'a/b~2.txt', 'a/b~3.TXT']);
  });

  test('a file and a folder of the same name stand beside each other, whichever comes first', () => {
    expect(taken('c/i.hold', 'c/i.hold/x.txt', 'c/i.hold/y/z.txt', 'c/I.HOLD/w.txt')).toEqual([
      'c/i.hold',
      'c/i~2.hold/x.txt',
      'c/i~2.hold/y/z.txt',
      'c/i~2.hold/w.txt',
    ]);
    expect(taken('c/i.hold/x.txt', 'c/i.hold')).toEqual(['c/i.hold/x.txt', 'c/i~2.hold']);
  });

  test('devices, signs and ends that some system refuses are changed', () => {
    expect(taken('con', 'a/aux.txt', 'what?.txt', 'end.', 'x/end. /y')).toEqual([
      '_con',
      'a/_aux.txt',
      'what_.txt',
      'end_',
      'x/end__/y',
    ]);
  });
});
