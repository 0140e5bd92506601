import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { masked } from '../../demo/world/quillmoor/mask';
import { spawnSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { entriesOf, holdBytes, key } from '@/core/testing/holds';
import { BODIES, NAMES, referenceScripts, SAMPLES } from '@/core/testing/reference-samples';
import { run } from './run';

const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-cli-'));
afterAll(() => fs.rmSync(folder, { recursive: true, force: true }));
const at = (name: string): string => path.join(folder, name);
const keyed = ['--key', `game=${key.toString('hex')}`];

async function latch(...args: string[]): Promise<{ code: number; out: string[]; complaints: string }> {
  const out: string[] = [];
  const complaints: string[] = [];
  const code = await run(args, { out: (line) => out.push(line), complain: (line) => complaints.push(line) });
  return { code, out, complaints: complaints.join('\n') };
}

/** Bytes that no codec makes smaller. */
function noise(length: number): Buffer {
  const out = Buffer.alloc(length);
  let state = 1;
  for (let i = 0; i < length; i++) out[i] = (state = (state * 48271) % 0x7fffffff) >> 8;
  return out;
}

const FILES = { 'a/one.txt': 'one', 'a/two.txt': 'two '.repeat(40_000), 'b/pic.bin': noise(90_000) };

beforeAll(() => {
  fs.writeFileSync(at('keyed.hold'), holdBytes(entriesOf(FILES), { key }));
  fs.writeFileSync(at('open.hold'), holdBytes(entriesOf(FILES)));
  fs.writeFileSync(at('nameless.hold'), holdBytes(entriesOf(FILES), { roll: false }));
  const twins = ['first', 'second'].map((text) => ({ path: 'same.txt', data: () => Buffer.from(text) }));
  fs.writeFileSync(at('twins.hold'), holdBytes(twins));
  fs.writeFileSync(at('evil.hold'), holdBytes(entriesOf({ '../../evil.txt': 'evil', 'good.txt': 'good' })));
  fs.writeFileSync(at('cut.hold'), holdBytes(entriesOf(FILES)).subarray(0, 900));
  fs.writeFileSync(at('names.txt'), '# names\na/one.txt\nb\\pic.bin\n');
  fs.writeFileSync(at('new.txt'), 'something new');
});

describe('find-key', () => {
  test('prints the key of a locked archive with its place, or how many were tried', async () => {
    const program = Buffer.alloc(20_000, 'some code; ');
    program.fill(0, 9000, 9100);
    key.copy(program, 9040);
    fs.writeFileSync(at('game.bin'), program);
    const found = await latch('find-key', at('game.bin'), at('keyed.hold'));
    expect(found).toMatchObject({ code: 0, complaints: '' });
    expect(found.out).toEqual([`${key.toString('hex')}  raw at byte 9040, opens 3 entries`]);
    const { out } = await latch('find-key', at('game.bin'), at('keyed.hold'), '--all', '--json');
    expect(JSON.parse(out[0]!)).toEqual({
      key: key.toString('hex'),
      offset: 9040,
      spelling: 'raw',
      entries: 3,
    });
    fs.writeFileSync(at('launcher.bin'), program.subarray(0, 9000));
    expect(await latch('find-key', at('launcher.bin'), at('keyed.hold'))).toMatchObject({
      code: 1,
      out: [],
      complaints: expect.stringMatching(/^No key in .*: \d+ candidates were held against pages\[0\]\.check/),
    });
    expect((await latch('find-key', at('game.bin'), at('open.hold'))).complaints).toContain('needs no key');
    expect((await latch('find-key', at('nothing'), at('keyed.hold'))).code).toBe(2);
  });
});

describe('entries', () => {
  test('a JSON line an entry', async () => {
    const { code, out } = await latch('entries', at('keyed.hold'), ...keyed, '--json');
    expect(code).toBe(0);
    const lines = out.map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(lines.map(({ index, path: name, size }) => [index, name, size])).toEqual([
      [0, 'a/one.txt', 3],
      [1, 'a/two.txt', 160_000],
      [2, 'b/pic.bin', 90_000],
    ]);
    expect(lines[0]!.transforms).toEqual(['aes-ctr', 'deflate in blocks of 65536']);
    expect(Number(lines[1]!.offset)).toBeGreaterThan(Number(lines[0]!.offset));
    expect(Number(lines[1]!.storedSize)).toBeLessThan(160_000);
    const page = fs.readFileSync('docs/command-line.md', 'utf8');
    for (const key of Object.keys(lines[1]!)) expect(page).toContain(`\`${key}\``);
    // What the script shows of an entry, and what it tells of the file.
    expect(lines[1]!.shown).toEqual({ sort: 'txt' });
    const explained = await latch('explain', at('keyed.hold'), ...keyed);
    expect(explained.out.map((line) => line.trim())).toContain('packed: under a key');
  });

  test('a name list names what the archive knows by hash only', async () => {
    const { out } = await latch('entries', at('nameless.hold'), '--names', at('names.txt'), '--json');
    const paths = out.map((line) => (JSON.parse(line) as { path: string }).path);
    expect(paths).toEqual(['a/one.txt', expect.stringMatching(/^unnamed\/[0-9a-f]{16}$/), 'b/pic.bin']);
  });

  test.each([
    ['no key', [], 'needs a key'],
    [
      'a wrong key',
      ['--key', `game=${'00'.repeat(32)}`],
      'pages[0].check, byte 76: does not open with this key',
    ],
  ])('%s: exit 1 with field and offset', async (_what, args, message) => {
    const { code, complaints } = await latch('entries', at('keyed.hold'), ...args);
    expect(code).toBe(1);
    expect(complaints).toContain(message);
  });

  test('a cut archive: exit 1, and the next one is still listed', async () => {
    const { code, out, complaints } = await latch('entries', at('cut.hold'), at('open.hold'), '--json');
    expect(code).toBe(1);
    expect(complaints).toMatch(/cut\.hold, .*byte \d+/);
    expect(out.length).toBe(3);
  });

  test('something that no script knows', async () => {
    expect(await latch('entries', at('new.txt'))).toMatchObject({
      code: 1,
      complaints: expect.stringContaining('is not recognised'),
    });
  });
});

describe('extract', () => {
  test('writes what was packed', async () => {
    const { code, out } = await latch('extract', at('keyed.hold'), ...keyed, '--to', at('out'), '--json');
    expect(code).toBe(0);
    for (const [name, data] of Object.entries(FILES))
      expect(fs.readFileSync(path.join(at('out'), name)).equals(Buffer.from(data as string))).toBe(true);
    expect(JSON.parse(out[2]!)).toEqual({ index: 2, path: 'b/pic.bin', file: 'b/pic.bin', bytes: 90_000 });
  });

  test('only what matches', async () => {
    expect((await latch('extract', at('open.hold'), '--to', at('some'), '--match', '**/*.bin')).out).toEqual([
      'b/pic.bin',
    ]);
    expect((await latch('extract', at('open.hold'), '--to', at('none'), '--match', '*.nothing')).code).toBe(
      2,
    );
  });

  test('the bytes as they lie, with --stored', async () => {
    const [line] = (await latch('entries', at('keyed.hold'), ...keyed, '--json')).out;
    const { offset, storedSize } = JSON.parse(line!) as { offset: number; storedSize: number };
    await latch('extract', at('keyed.hold'), ...keyed, '--to', at('stored'), '--stored');
    expect(
      fs
        .readFileSync(path.join(at('stored'), 'a/one.txt'))
        .equals(fs.readFileSync(at('keyed.hold')).subarray(offset, offset + storedSize)),
    ).toBe(true);
  });

  test('namesakes never overwrite each other', async () => {
    await latch('extract', at('twins.hold'), '--to', at('twins'));
    expect(fs.readFileSync(path.join(at('twins'), 'same.txt'), 'utf8')).toBe('first');
    expect(fs.readFileSync(path.join(at('twins'), 'same~2.txt'), 'utf8')).toBe('second');
  });

  test('nothing is written outside the folder, by path or by link', async () => {
    const { code } = await latch('extract', at('evil.hold'), '--to', at('deep/er'));
    expect(code).toBe(0);
    expect(fs.existsSync(at('evil.txt'))).toBe(false);
    expect(fs.readFileSync(path.join(at('deep/er'), '__/__/evil.txt'), 'utf8')).toBe('evil');
    fs.mkdirSync(at('trap'));
    fs.mkdirSync(at('outside'));
    fs.symlinkSync(at('outside'), path.join(at('trap'), 'a'));
    const trapped = await latch('extract', at('open.hold'), '--to', at('trap'));
    expect(trapped).toMatchObject({
      code: 1,
      complaints: expect.stringContaining('a link in the target leads out of it'),
    });
    expect(fs.readdirSync(at('outside'))).toEqual([]);
    expect(fs.existsSync(path.join(at('trap'), 'b/pic.bin'))).toBe(true);
  });
});

describe('repack and prove', () => {
  test('a change is in the new archive, which proves itself', async () => {
    expect(
      (
        await latch(
          'repack',
          at('keyed.hold'),
          ...keyed,
          '--change',
          `a/one.txt=${at('new.txt')}`,
          '--to',
          at('new.hold'),
        )
      ).code,
    ).toBe(0);
    await latch('extract', at('new.hold'), ...keyed, '--to', at('newout'));
    expect(fs.readFileSync(path.join(at('newout'), 'a/one.txt'), 'utf8')).toBe('something new');
    expect(await latch('prove', at('new.hold'), ...keyed)).toMatchObject({
      code: 0,
      out: expect.arrayContaining([expect.stringMatching(/^holds {2}A rewrite/)]),
    });
  });

  test('namesakes are told apart by number', async () => {
    expect(
      await latch('repack', at('twins.hold'), '--change', `same.txt=${at('new.txt')}`, '--to', at('x.hold')),
    ).toMatchObject({ code: 2, complaints: expect.stringContaining('#0, #1') });
    expect(
      (await latch('repack', at('twins.hold'), '--change', `#1=${at('new.txt')}`, '--to', at('x.hold'))).code,
    ).toBe(0);
    await latch('extract', at('x.hold'), '--to', at('twins2'));
    expect(fs.readFileSync(path.join(at('twins2'), 'same~2.txt'), 'utf8')).toBe('something new');
  });

  test('entries are added and taken out, and the rest stays', async () => {
    const asked = ['--add', `a/newcomer.txt=${at('new.txt')}`, '--remove', 'a/one.txt'];
    expect(
      await latch('repack', at('keyed.hold'), ...keyed, ...asked, '--to', at('edited.hold')),
    ).toMatchObject({ code: 0, out: [expect.stringContaining('1 added, 1 taken out')] });
    expect(await latch('prove', at('edited.hold'), ...keyed)).toMatchObject({ code: 0 });
    const paths = async (file: string): Promise<string[]> =>
      (await latch('entries', at(file), ...keyed, '--json')).out.map(
        (line) => (JSON.parse(line) as { path: string }).path,
      );
    const before = await paths('keyed.hold');
    expect((await paths('edited.hold')).sort()).toEqual(
      [...before.filter((one) => one !== 'a/one.txt'), 'a/newcomer.txt'].sort(),
    );
    await latch('extract', at('edited.hold'), ...keyed, '--match', 'a/newcomer.txt', '--to', at('added'));
    expect(fs.readFileSync(path.join(at('added'), 'a/newcomer.txt'), 'utf8')).toBe('something new');
    const refused = async (...more: string[]): Promise<string> =>
      (await latch('repack', at('keyed.hold'), ...keyed, ...more, '--to', at('no.hold'))).complaints;
    expect(await refused('--remove', 'nothing.txt')).toContain('no entry nothing.txt');
    expect(await refused('--add', `a/one.txt=${at('new.txt')}`)).toContain('does not have yet');
    const both = ['--change', `a/one.txt=${at('new.txt')}`, '--remove', 'a/one.txt'];
    expect(await refused(...both)).toContain('changed and taken out at once');
    expect(fs.existsSync(at('no.hold'))).toBe(false);
  });

  test('things lie beside each other, whichever folder they come from; archives among them have their own', async () => {
    const seed = 0x01020304;
    const mask = (text: string, name: string): Buffer => masked(Buffer.from(text), name, seed);
    for (const folder of ['near', 'far']) {
      fs.mkdirSync(at(folder));
      fs.writeFileSync(at(`${folder}/bell.note`), mask(`RIFF ${folder}`, 'bell.note'));
    }
    const things = ['near/bell.note', 'far/bell.note'].map(at);
    const key = ['--key', 'project=04030201'];
    const made = await latch('extract', ...things, at('open.hold'), ...key, '--to', at('plain'));
    expect(made.complaints).toBe('');
    const own = fs.readdirSync(at('plain')).sort();
    expect(own).toHaveLength(3);
    expect(own).toContain('open.hold');
    const texts = own
      .filter((name) => name.endsWith('.wav'))
      .map((name) => fs.readFileSync(path.join(at('plain'), name), 'utf8'));
    expect(texts.sort()).toEqual(['RIFF far', 'RIFF near']);
    // A second time nothing is written over.
    const again = await latch('extract', things[0]!, ...key, '--to', at('plain'));
    expect(again.code).not.toBe(0);
  });

  test('several archives go into a folder', async () => {
    expect(
      (
        await latch(
          'repack',
          at('open.hold'),
          at('twins.hold'),
          '--change',
          `a/one.txt=${at('new.txt')}`,
          '--to',
          at('both'),
        )
      ).code,
    ).toBe(0);
    expect(
      fs.readFileSync(path.join(at('both'), 'twins.hold')).equals(fs.readFileSync(at('twins.hold'))),
    ).toBe(true);
  });

  test('a damaged payload is found by the proof', async () => {
    const bytes = holdBytes(entriesOf(FILES));
    const [line] = (await latch('entries', at('open.hold'), '--json')).out;
    bytes[(JSON.parse(line!) as { offset: number }).offset + 6]! ^= 0x55;
    fs.writeFileSync(at('damaged.hold'), bytes);
    const { code, out } = await latch('prove', at('damaged.hold'));
    expect(code).toBe(1);
    expect(out.join('\n')).toMatch(/FAILS .*a\/one\.txt/);
  });

  test.each([
    [
      ['repack', 'open.hold', '--change', 'nothing.txt=new.txt', '--to', 'y.hold'],
      'no archive has an entry nothing.txt',
    ],
    [['repack', 'open.hold', '--to', 'open.hold'], 'is there already'],
    [['entries', 'missing.hold'], 'there is no such file'],
    [['entries'], 'missing required argument'],
    [['frobnicate'], 'unknown command'],
    [['entries', 'open.hold', '--key', 'game'], '--key takes NAME=HEX'],
  ])('wrong usage is exit 2: %j', async (args, message) => {
    const placed = args.map((word) =>
      /^[a-z]+\.(hold|txt)$/.test(word) ? at(word) : word.replace('=new.txt', `=${at('new.txt')}`),
    );
    const { code, complaints } = await latch(...placed);
    expect(complaints).toContain(message);
    expect(code).toBe(2);
  });
});

test('parameters and times of a script', async () => {
  const script = `
format script: 1
title: Versions
recognise: [{ at: 0, text: VRSN }]
parameters: { version: { default: 1, one of: [1, 2], about: which layout } }
records:
  head: { tag: text(4), time: u32, at: u32, wide: { type: u32, if: parameter.version == 2 } }
parts: { head: { type: head, at: 0 } }
entries: { each: head, path: "'body'", modified: time, payload: { at: at, size: file.size - at } }
`;
  fs.writeFileSync(at('versions.yaml'), script);
  fs.writeFileSync(at('two.bin'), Buffer.from('5652534e0030e65f1000000007000000426f6479', 'hex'));
  const list = (...args: string[]) =>
    latch('entries', at('two.bin'), '--script', at('versions.yaml'), '--json', ...args);
  const { out } = await list('--set', 'version=2');
  expect(JSON.parse(out[0]!)).toMatchObject({ path: 'body', size: 4, modified: '2020-12-25T18:31:28.000Z' });
  expect(await list('--set', 'version=3')).toMatchObject({
    code: 1,
    complaints: expect.stringContaining('one of 1, 2'),
  });
  expect(await list('--set', 'edition=3')).toMatchObject({
    code: 2,
    complaints: expect.stringContaining('no parameter edition'),
  });
  expect((await list('--set', 'version')).code).toBe(2);
});

test('check-script tells line and column, and exit 1', async () => {
  fs.writeFileSync(
    at('bad.yaml'),
    fs.readFileSync('scripts/formats/sheet-peatfire.yaml', 'utf8').replace('width: u16', 'width: u17'),
  );
  expect(await latch('check-script', 'scripts/formats/sheet-peatfire.yaml', at('bad.yaml'))).toMatchObject({
    code: 1,
    complaints: expect.stringMatching(/bad\.yaml.*line \d+, column 12.*u17/),
  });
});

test('the command itself, from another folder, with its exit codes', async () => {
  const latchFile = path.resolve('bin/latch');
  const call = (...args: string[]) => spawnSync(latchFile, args, { cwd: folder, encoding: 'utf8' });
  expect(call('prove', 'open.hold').status).toBe(0);
  expect(call('entries', 'keyed.hold').status).toBe(1);
  expect(call('entries').status).toBe(2);
}, 30_000);

test('a file size limit, as a full disk, leaves no half archive', async () => {
  const result = spawnSync(
    'bash',
    [
      '-c',
      `ulimit -f 8; trap '' XFSZ; exec ${path.resolve('bin/latch')} repack keyed.hold ${keyed.join(' ')} --change a/one.txt=keyed.hold --to limited.hold`,
    ],
    { cwd: folder, encoding: 'utf8' },
  );
  expect(result.status).toBe(1);
  expect(result.stderr).toMatch(/file too large|EFBIG|full/i);
  expect(fs.readdirSync(folder).filter((name) => name.includes('limited'))).toEqual([]);
}, 30_000);

describe('archives of several files and archives inside archives', () => {
  const volumes = SAMPLES.volumes!();
  beforeAll(() => {
    fs.mkdirSync(at('many'));
    fs.writeFileSync(at('many/sample.idx'), volumes.bytes);
    for (const [name, bytes] of Object.entries(volumes.beside!)) fs.writeFileSync(at(`many/${name}`), bytes);
    fs.writeFileSync(at('volumes.yaml'), referenceScripts.get('volumes')!.text);
    const work = { cwd: folder, stdio: 'ignore' as const };
    fs.writeFileSync(at('deep.txt'), 'the deepest');
    spawnSync('zip', ['-q', 'inner.zip', 'deep.txt'], work);
    spawnSync('tar', ['-cf', 'middle.tar', 'inner.zip', 'new.txt', 'many'], work);
    spawnSync('zip', ['-q', 'outer.zip', 'middle.tar'], work);
  });
  const script = () => ['--script', at('volumes.yaml')];

  test('lists, extracts and proves them', async () => {
    const { out } = await latch('entries', at('many/sample.idx'), ...script(), '--json');
    expect(out.map((line) => (JSON.parse(line) as { file: string }).file)).toEqual([
      'sample_01.vol',
      'sample_02.vol',
      'sample_01.vol',
    ]);
    expect((await latch('extract', at('many/sample.idx'), ...script(), '--to', at('manyout'))).code).toBe(0);
    expect(fs.readFileSync(path.join(at('manyout'), NAMES[1]!), 'utf8')).toBe(BODIES[1]);
    expect((await latch('prove', at('many/sample.idx'), ...script())).out[1]).toContain('3 files');
  });

  test('writes all of them, under names that go with the new one', async () => {
    const change = ['--change', `${NAMES[0]}=${at('new.txt')}`];
    const { code, complaints } = await latch(
      ...['repack', at('many/sample.idx'), ...script(), ...change, '--to', at('manynew/other.idx')],
    );
    expect([code, complaints]).toEqual([0, '']);
    expect(fs.readdirSync(at('manynew')).sort()).toEqual(['other.idx', 'other_01.vol', 'other_02.vol']);
    expect((await latch('prove', at('manynew/other.idx'), ...script())).code).toBe(0);
    // A second time nothing of it is overwritten.
    fs.rmSync(at('manynew/other.idx'));
    const again = await latch(
      ...['repack', at('many/sample.idx'), ...script(), ...change, '--to', at('manynew/other.idx')],
    );
    expect(again.complaints).toContain('other_01.vol is there already');
  });

  test('a file that lies elsewhere, and one that is missing', async () => {
    fs.mkdirSync(at('apart'));
    fs.copyFileSync(at('many/sample.idx'), at('apart/sample.idx'));
    const missing = await latch('entries', at('apart/sample.idx'), ...script());
    expect(missing).toMatchObject({ code: 1, complaints: expect.stringContaining('sample_01.vol') });
    const given = [0, 1].flatMap((i) => ['--file', `volumes[${i}]=${at(`many/sample_0${i + 1}.vol`)}`]);
    expect((await latch('entries', at('apart/sample.idx'), ...script(), ...given)).out.length).toBe(3);
    expect((await latch('entries', at('apart/sample.idx'), ...script(), '--file', 'x=y')).code).toBe(2);
  });

  test('lists, extracts and changes what is inside what is inside', async () => {
    const inside = `${at('outer.zip')}//middle.tar//inner.zip`;
    expect((await latch('entries', inside, '--json')).out.map((line) => JSON.parse(line).path)).toEqual([
      'deep.txt',
    ]);
    const change = ['--change', `deep.txt=${at('new.txt')}`];
    expect(await latch('repack', inside, ...change, '--to', at('outer2.zip'))).toMatchObject({ code: 0 });
    const call = (command: string, ...args: string[]) =>
      spawnSync('bash', ['-c', command, '-', ...args], { cwd: folder, encoding: 'utf8' }).stdout;
    call('unzip -qo outer2.zip middle.tar -d two && tar -xf two/middle.tar -C two inner.zip new.txt');
    expect(call('unzip -p two/inner.zip deep.txt')).toBe('something new');
    expect(call('cat two/new.txt')).toBe('something new');
  });

  test('files beside an archive inside another are entries of its folder', async () => {
    const inside = `${at('outer.zip')}//middle.tar//many/sample.idx`;
    expect((await latch('entries', inside, ...script())).out.length).toBe(3);
    const change = ['--change', `${NAMES[1]}=${at('new.txt')}`];
    await latch('repack', inside, ...script(), ...change, '--to', at('outer3.zip'));
    const again = `${at('outer3.zip')}//middle.tar//many/sample.idx`;
    await latch('extract', again, ...script(), '--to', at('deepout'));
    expect(fs.readFileSync(path.join(at('deepout'), NAMES[1]!), 'utf8')).toBe('something new');
    expect((await latch('prove', again, ...script())).code).toBe(0);
  });

  test('one script goes to what no shipped script recognises, two from the outside in', async () => {
    const wrapper = `
format script: 1
title: Wrapper
recognise: [{ at: 0, text: WRAPPED }]
records: { all: { tag: text(7), size: { type: u32, derived: size(data) }, data: bytes(size) } }
parts: { all: { type: all, at: 0 } }
entries: { each: all, path: file.stem + '.zip', payload: { field: data } }
`;
    fs.writeFileSync(at('wrapper.yaml'), wrapper);
    const zip = fs.readFileSync(at('outer.zip'));
    const size = Buffer.alloc(4);
    size.writeUInt32LE(zip.length);
    fs.writeFileSync(at('game.wrap'), Buffer.concat([Buffer.from('WRAPPED'), size, zip]));
    const own = ['--script', at('wrapper.yaml')];
    const inside = `${at('game.wrap')}//game.zip`;
    const listed = (await latch('entries', at('outer.zip'))).out;
    expect((await latch('entries', inside, ...own)).out).toEqual(listed);
    const deepest = `${inside}//middle.tar//many/sample.idx`;
    expect((await latch('entries', deepest, ...own, ...script())).out.length).toBe(3);
    expect((await latch('entries', inside)).complaints).toContain('game.wrap, byte 0: is not recognised');
  });

  test('an entry that is not there, or no archive', async () => {
    expect(await latch('entries', `${at('outer.zip')}//nothing.zip`)).toMatchObject({
      code: 1,
      complaints: expect.stringContaining('one entry nothing.zip'),
    });
    expect((await latch('entries', `${at('outer.zip')}//middle.tar//new.txt`)).complaints).toContain(
      'is not recognised',
    );
  });
});
