import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { refOfBytes } from '@/core/bytes';
import { TargetNames } from './extract-files';
import { FolderWriter, type WriteOutcome } from './folder-writer';
import { LEDGER, WrittenFolder } from './written-folder';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'written-'));
afterAll(() => fs.rmSync(root, { recursive: true }));
let folder = '';
let number = 0;
beforeEach(() => {
  folder = path.join(root, String(++number));
});

const about = { by: '1:1', path: 'a', archive: 'h', source: 's', stated: '', stored: '', settings: 'stored' };

/** Writes one file as a run would, and closes all. */
function put(file: string, text: string, modified: number | undefined = 1_700_000_000): WriteOutcome {
  const out = new WrittenFolder(folder);
  const { standing, seen } = out.standing(file);
  const old = standing === 'ours' ? out.known.get(file) : undefined;
  const writer = new FolderWriter(out.root, 'w');
  let outcome: WriteOutcome | undefined;
  const content = refOfBytes(Buffer.from(text));
  try {
    writer.write({ file, content, about, modified, seen, old }, (what) => (outcome = what));
    writer.settle();
  } finally {
    writer.close();
    out.close();
  }
  return outcome!;
}
const read = (file: string): string => fs.readFileSync(path.join(folder, file), 'utf8');
const all = (): string[] => fs.readdirSync(folder, { recursive: true }).map(String).sort();
const ledger = (): string[] => read(LEDGER).trim().split('\n');
function standing(file: string): string {
  const out = new WrittenFolder(folder);
  const is = out.standing(file).standing;
  out.close();
  return is;
}

describe('a folder that runs write into', () => {
  test('knows its files again, and tells those of others and edited ones', () => {
    put('deep/er/a.txt', 'one');
    put('b.txt', 'two');
    fs.writeFileSync(path.join(folder, 'other.txt'), 'x');
    expect(fs.statSync(path.join(folder, 'b.txt')).mtimeMs).toBe(1_700_000_000_000);
    expect(['b.txt', 'deep/er/a.txt', 'other.txt', 'none.txt'].map(standing)).toEqual([
      'ours',
      'ours',
      'foreign',
      'free',
    ]);
    // Touched, but with the same content.
    fs.utimesSync(path.join(folder, 'b.txt'), 5, 5);
    expect(standing('b.txt')).toBe('ours');
    fs.writeFileSync(path.join(folder, 'b.txt'), 'own');
    expect(standing('b.txt')).toBe('edited');
    expect(put('c.txt', 'of now', undefined)).toBe('written');
    expect(standing('c.txt')).toBe('ours');
  });

  test('the same content is not written again', () => {
    expect(put('a.txt', 'one')).toBe('written');
    const { ino } = fs.statSync(path.join(folder, 'a.txt'));
    expect(put('a.txt', 'one')).toBe('same');
    expect(fs.statSync(path.join(folder, 'a.txt')).ino).toBe(ino);
    expect(put('a.txt', 'two')).toBe('written');
    expect(read('a.txt')).toBe('two');
    expect(ledger()).toHaveLength(1);
    expect(all()).toEqual([LEDGER, 'a.txt']);
  });

  test('a failure in the middle leaves neither the file nor a part of it', () => {
    put('a.txt', 'one');
    const out = new WrittenFolder(folder);
    const writer = new FolderWriter(out.root, 'w');
    const broken = {
      length: 10,
      *chunks(): Generator<Uint8Array> {
        yield Buffer.from('half');
        throw new Error('gone');
      },
    };
    const file = {
      file: 'a.txt',
      about,
      modified: undefined,
      seen: out.standing('a.txt').seen,
      old: undefined,
    };
    expect(() => writer.write({ ...file, content: broken }, () => undefined)).toThrow('gone');
    // What has no name yet when all ends does not get one.
    writer.write({ ...file, content: refOfBytes(Buffer.from('two')) }, () => undefined);
    writer.close();
    out.close();
    expect(read('a.txt')).toBe('one');
    expect(all()).toEqual([LEDGER, 'a.txt']);
  });

  test('what somebody touches between the look and the write is kept', () => {
    put('a.txt', 'one');
    const out = new WrittenFolder(folder);
    const writer = new FolderWriter(out.root, 'w');
    const outcomes: WriteOutcome[] = [];
    for (const file of ['a.txt', 'new.txt']) {
      const { seen } = out.standing(file);
      fs.writeFileSync(path.join(folder, file), 'by somebody');
      const content = refOfBytes(Buffer.from('two'));
      writer.write({ file, content, about, modified: 1, seen, old: undefined }, (what) =>
        outcomes.push(what),
      );
    }
    writer.settle();
    writer.close();
    out.close();
    expect(outcomes).toEqual(['edited', 'edited']);
    expect([read('a.txt'), read('new.txt')]).toEqual(['by somebody', 'by somebody']);
    expect(['a.txt', 'new.txt'].map(standing)).toEqual(['edited', 'edited']);
  });

  test('a kill between the ledger and the name leaves nothing wrong', () => {
    put('a.txt', 'one');
    // The line is there, the file has not got its name; and a last line that is cut.
    fs.rmSync(path.join(folder, 'a.txt'));
    fs.appendFileSync(path.join(folder, LEDGER), '{"file":"b.t');
    expect(standing('a.txt')).toBe('free');
    // A part of a ledger that nobody took in, cut as well, and a file without a name.
    const line = { ...JSON.parse(ledger()[0]!), file: 'd.txt' } as object;
    fs.writeFileSync(path.join(folder, `${LEDGER}.x`), `${JSON.stringify(line)}\n{"file":`);
    fs.writeFileSync(path.join(folder, 'c.txt.zero-latch-part'), 'half');
    put('c.txt', 'three');
    const last = new WrittenFolder(folder);
    expect([...last.known.keys()].sort()).toEqual(['a.txt', 'c.txt', 'd.txt']);
    last.close();
    expect(all()).toEqual([LEDGER, 'c.txt']);
  });

  test('of two writers that noted a file the one counts that wrote it later', () => {
    put('a.txt', 'one');
    const line = JSON.parse(ledger()[0]!) as { modifiedMs: number };
    const note = (name: string, by: number, content: string): void =>
      fs.writeFileSync(
        path.join(folder, `${LEDGER}.${name}`),
        `${JSON.stringify({ ...line, modifiedMs: line.modifiedMs + by, content })}\n`,
      );
    note('a', 9, 'late');
    note('b', 4, 'early');
    const out = new WrittenFolder(folder);
    expect(out.known.get('a.txt')!.content).toBe('late');
    out.close();
  });

  test('links that lead out are not followed', () => {
    const elsewhere = path.join(root, `elsewhere-${number}`);
    fs.mkdirSync(elsewhere);
    fs.mkdirSync(folder);
    fs.symlinkSync(elsewhere, path.join(folder, 'out'));
    expect(() => put('out/a.txt', 'x')).toThrow(/leads out/);
    expect(fs.readdirSync(elsewhere)).toEqual([]);
    fs.symlinkSync(path.join(elsewhere, 'target.txt'), path.join(folder, 'b.txt'));
    expect(standing('b.txt')).toBe('foreign');
    // Neither by the name that a file has before its own.
    fs.symlinkSync(path.join(elsewhere, 'target.txt'), path.join(folder, 'c.txt.zero-latch-part'));
    expect(put('c.txt', 'three')).toBe('written');
    expect(fs.readdirSync(elsewhere)).toEqual([]);
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

  test('names in every script, with every forbidden sign, and the longest ones, are written and stay apart', () => {
    const scripts = 'Ångström,Ωmega,Ёжик,שלום,سلام,नमस्ते,สวัสดี,こんにちは,漢字,한국어,ქართული,አማርኛ,👩‍🚀'.split(
      ',',
    );
    const forbidden = [...'<>:"|?*\\'].map((sign) => `a${sign}b.txt`);
    const controls = [1, 9, 10, 31, 127].map((code) => `c${String.fromCharCode(code)}d.txt`);
    const devices = ['con', 'PRN.txt', 'com1.bin', 'LPT9', 'nul.tar.gz'];
    const long = ['x'.repeat(300), `${'漢'.repeat(200)}.txt`, `${'deep/'.repeat(60)}end.txt`];
    const wanted = [
      ...scripts,
      ...scripts.map((name) => `${name}/${name}.txt`),
      ...forbidden,
      ...controls,
      ...devices,
      ...long,
    ];
    const target = new TargetNames();
    const files = wanted.map((name) => target.take(name));
    expect(new Set(files.map((name) => name.toLowerCase())).size).toBe(wanted.length);
    files.forEach((file, i) => expect(put(file, `content of ${i}`)).toBe('written'));
    files.forEach((file, i) => expect(read(file)).toBe(`content of ${i}`));
    for (const file of files)
      for (const step of file.split('/')) {
        // What the strictest of the common systems refuses.
        expect(step).not.toMatch(/[<>:"|?*\\\u0000-\u001f]|[. ]$/);
        expect(step).not.toMatch(/^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i);
        expect(Buffer.byteLength(step)).toBeLessThanOrEqual(255);
      }
  });
});
