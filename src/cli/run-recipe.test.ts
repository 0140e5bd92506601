import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { entriesOf, holdBytes, key } from '@/core/testing/holds';
import { run } from './run';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-run-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
let folder = '';
let count = 0;
const at = (...names: string[]): string => path.join(folder, ...names);

beforeEach(() => {
  folder = path.join(root, `${++count}`);
  fs.mkdirSync(at('game', 'holds'), { recursive: true });
  fs.writeFileSync(
    at('game', 'holds', 'a.hold'),
    holdBytes(
      entriesOf({
        'text/one.txt': 'one',
        'text/two.json': '{"two":[2]}',
        'text/aux.txt': 'a device',
        'pic/x.bin': 'x'.repeat(5000),
      }),
      { key },
    ),
  );
  fs.writeFileSync(at('game', 'holds', 'b.hold'), holdBytes(entriesOf({ 'text/one.txt': 'one, amended' })));
  fs.writeFileSync(at('game', 'text.cfg'), 'loose');
});

async function latch(...args: string[]): Promise<{ code: number; out: string; complaints: string }> {
  const out: string[] = [];
  const complaints: string[] = [];
  const code = await run(args, { out: (line) => out.push(line), complain: (line) => complaints.push(line) });
  return { code, out: out.join('\n'), complaints: complaints.join('\n') };
}

function recipe(parts: object): string {
  const file = at('recipe.json');
  const whole = { title: 'Texts', pick: { search: '' }, folder: at('out'), ...parts };
  fs.writeFileSync(file, JSON.stringify({ 'zero latch recipe': 1, recipe: whole }));
  return file;
}
const keyed = ['--key', `game=${key.toString('hex')}`];
const files = (): string[] =>
  fs
    .readdirSync(at('out'), { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.startsWith('.'))
    .map((entry) => path.relative(at('out'), path.join(entry.parentPath, entry.name)))
    .sort();
const read = (name: string): string => fs.readFileSync(at('out', name), 'utf8');

describe('run', () => {
  test('takes what a search finds of a whole folder, of namesakes the later, and only once', async () => {
    const file = recipe({ pick: { search: 'text' }, convert: { text: 'pretty' } });
    const first = await latch('run', file, at('game'), ...keyed);
    expect(first).toMatchObject({ code: 0, complaints: '' });
    expect(first.out).toContain('4 written, 0 as they were.');
    expect(files()).toEqual([
      'text.cfg',
      'text/_aux.txt',
      'text/one.txt',
      'text/two.json',
      'zero-latch-log.tsv',
    ]);
    expect(read('text/one.txt')).toBe('one, amended');
    expect(read('text/two.json')).toBe('{\n  "two": [\n    2\n  ]\n}\n');
    expect((await latch('run', file, at('game'), ...keyed)).out).toContain('0 written, 4 as they were.');
    expect(read('zero-latch-log.tsv')).toContain(
      'skipped\ttext/one.txt\tholds/b.hold\ttext/one.txt\tthe archive is as it was',
    );
    // What somebody edited is kept; what changed in the game is written.
    fs.writeFileSync(at('out', 'text', 'two.json'), 'mine');
    fs.writeFileSync(
      at('game', 'holds', 'b.hold'),
      holdBytes(entriesOf({ 'text/one.txt': 'one, once more' })),
    );
    const third = await latch('run', file, at('game'), ...keyed);
    expect(third.out).toContain('1 written, 2 as they were, 1 edited and kept.');
    expect(third.complaints).toContain('text/two.json: somebody changed the file');
    expect([read('text/one.txt'), read('text/two.json')]).toEqual(['one, once more', 'mine']);
  });

  test('takes a list of paths by a pattern, and says what is not there', async () => {
    const file = recipe({
      pick: { paths: ['pic/x.bin', 'text/one.txt', 'no/such.txt'] },
      name: { how: 'pattern', pattern: '{archive}-{stem}{ending}' },
    });
    const { code, out } = await latch(
      'run',
      file,
      at('game', 'holds'),
      '--to',
      at('out'),
      '--json',
      ...keyed,
    );
    expect(code).toBe(1);
    const lines = out
      .split('\n')
      .map((line) => JSON.parse(line) as { state: string; path: string; file: string });
    expect(lines.map(({ state, file: name }) => `${state} ${name}`)).toEqual([
      'missing ',
      'written a-x.bin',
      'written b-one.txt',
    ]);
  });

  test('a broken or locked archive is said, and the others are taken', async () => {
    fs.writeFileSync(
      at('game', 'holds', 'c.hold'),
      fs.readFileSync(at('game', 'holds', 'b.hold')).subarray(0, 200),
    );
    const { code, out, complaints } = await latch('run', recipe({}), at('game'));
    expect(code).toBe(1);
    expect(complaints).toContain('c.hold');
    expect(out).toContain('2 written');
    expect(read('text/one.txt')).toBe('one, amended');
  });

  test.each([
    ['no json', /it is no JSON/],
    ['{"recipe":{}}', /zero latch recipe/],
    ['{"zero latch recipe":1,"recipe":{"title":"x","pick":{"paths":[]},"folder":"/x"}}', /recipe\.pick/],
  ])('a file that is no recipe is refused: %s', async (text, said) => {
    fs.writeFileSync(at('wrong.json'), text);
    const { code, complaints } = await latch('run', at('wrong.json'), at('game'));
    expect(code).toBe(2);
    expect(complaints).toMatch(said);
  });

  test('nothing is written into the game', async () => {
    const { code, complaints } = await latch('run', recipe({}), at('game'), '--to', at('game', 'out'));
    expect(code).toBe(2);
    expect(complaints).toMatch(/outside of the game/);
    expect(fs.existsSync(at('game', 'out'))).toBe(false);
  });
});
