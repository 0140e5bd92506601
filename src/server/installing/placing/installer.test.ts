import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import {
  closeJournal,
  mend,
  operate as begin,
  originalFile,
  readJournals,
  sweepJournals,
  type InstallerPlaces,
  type JournalFile,
  type Mended,
  type OperateOptions,
  type Target,
} from './index';

let root: string;
let game: string;
let places: InstallerPlaces;
const sha = (data: Buffer | string): string => createHash('sha256').update(data).digest('hex');

beforeEach(() => {
  root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-install-'));
  game = path.join(root, 'game');
  places = { originals: path.join(root, 'originals'), journals: path.join(root, 'journals') };
  for (const folder of [
    path.join(game, 'holds'),
    path.join(root, 'build'),
    places.originals,
    places.journals,
  ])
    fs.mkdirSync(folder, { recursive: true });
});
afterEach(() => fs.rmSync(root, { recursive: true, force: true }));

/** An operation whose records are written at once. */
function operate(
  folder: string,
  title: string,
  targets: readonly Target[],
  at: InstallerPlaces,
  options?: OperateOptions,
): readonly JournalFile[] {
  const journal = begin(folder, title, targets, at, options);
  closeJournal(at.journals, journal.id);
  return journal.files;
}

/** Mends whatever is open, and writes the records of it. */
const mendAll = (): Mended[] =>
  readJournals(places.journals).map(({ journal }) => {
    const mended = mend(journal, places);
    if (mended.placed) closeJournal(places.journals, journal.id);
    return mended;
  });

const NAMES = ['holds/a.hold', 'holds/b.hold', 'c.hold', 'd.hold'];

/** A game of four files and a build with another version of each. */
function world(bytes = 200_000): Target[] {
  return NAMES.map((name, i) => {
    const old = Buffer.alloc(bytes, `old ${i}`);
    const now = Buffer.alloc(bytes + i, `new ${i}`);
    fs.writeFileSync(path.join(game, name), old);
    const from = path.join(root, 'build', `${i}`);
    fs.writeFileSync(from, now);
    return { path: name, before: sha(old), after: sha(now), from };
  });
}

const state = (): Record<string, string> =>
  Object.fromEntries(walk(game).map((name) => [name, sha(fs.readFileSync(path.join(game, name)))]));

function walk(folder: string, inner = ''): string[] {
  return fs
    .readdirSync(path.join(folder, inner), { withFileTypes: true })
    .flatMap((item) =>
      item.isDirectory() ? walk(folder, path.join(inner, item.name)) : [path.join(inner, item.name)],
    );
}

const wanted = (targets: Target[], side: 'before' | 'after'): Record<string, string> =>
  Object.fromEntries(targets.map((target) => [target.path, target[side]!]).sort());

describe('an operation on a game folder', () => {
  test('puts all new files in place and keeps all old ones', () => {
    const targets = world();
    operate(game, 'Install', targets, places);
    expect(state()).toEqual(wanted(targets, 'after'));
    for (const { before } of targets)
      expect(sha(fs.readFileSync(originalFile(places.originals, before!)))).toBe(before);
    operate(
      game,
      'Restore',
      targets.map((one) => ({
        path: one.path,
        before: one.after,
        after: one.before,
        from: originalFile(places.originals, one.before!),
      })),
      places,
    );
    expect(state()).toEqual(wanted(targets, 'before'));
  });

  test('folders that were made for new files go with them, and no others', () => {
    const data = Buffer.from('loose');
    const from = path.join(root, 'build', 'loose');
    fs.writeFileSync(from, data);
    fs.mkdirSync(path.join(game, 'empty before'));
    const targets = ['loose/a/one.txt', 'loose/b/two.txt', 'empty before/three.txt', 'holds/four.txt'].map(
      (name): Target => ({ path: name, before: null, after: sha(data), from }),
    );
    const folders = (): string[] =>
      fs
        .readdirSync(game, { recursive: true, encoding: 'utf8' })
        .filter((name) => fs.statSync(path.join(game, name)).isDirectory())
        .sort();
    const before = folders();
    const done = operate(game, 'Install', targets, places);
    expect(folders()).toEqual(['empty before', 'holds', 'loose', 'loose/a', 'loose/b']);
    // Somebody puts a file of their own into one of them.
    fs.writeFileSync(path.join(game, 'loose/b/mine.txt'), 'mine');
    const back = done.map((file): Target => ({ ...file, before: file.after, after: null, from: undefined }));
    operate(game, 'Restore', back, places);
    expect(folders()).toEqual([...before, 'loose', 'loose/b'].sort());
    fs.rmSync(path.join(game, 'loose'), { recursive: true });
    // Stopped before the first rename, it leaves none either.
    const broken = [...targets, { path: 'x/y.txt', before: null, after: sha('other'), from }];
    expect(() => operate(game, 'Install', broken, places)).toThrow('does not read back');
    expect(folders()).toEqual(before);
  });

  test('a file that changed meanwhile stops it before anything is overwritten', () => {
    const targets = world();
    fs.writeFileSync(path.join(game, 'c.hold'), 'changed by the game');
    const before = state();
    expect(() => operate(game, 'Install', targets, places)).toThrow('c.hold is not what it was');
    expect(state()).toEqual(before);
    expect(fs.readdirSync(places.journals)).toEqual([]);
  });

  test('a new file that does not read back right stops it', () => {
    const targets = world();
    fs.writeFileSync(targets[2]!.from!, 'not what was proved');
    expect(() => operate(game, 'Install', targets, places)).toThrow('does not read back');
    expect(state()).toEqual(wanted(targets, 'before'));
  });

  test('a kept original that was damaged is kept anew, not trusted', () => {
    const targets = world();
    fs.writeFileSync(originalFile(places.originals, targets[0]!.before!), 'damaged');
    operate(game, 'Install', targets, places);
    expect(sha(fs.readFileSync(originalFile(places.originals, targets[0]!.before!)))).toBe(
      targets[0]!.before,
    );
  });

  test('files can be added and taken out again', () => {
    const [target] = world();
    const added: Target = {
      path: 'holds/h95-new.hold',
      before: null,
      after: target!.after,
      from: target!.from,
    };
    operate(game, 'Install', [added], places);
    expect(state()[added.path]).toBe(target!.after);
    operate(
      game,
      'Restore',
      [{ path: added.path, before: added.after, after: null, from: undefined }],
      places,
    );
    expect(state()[added.path]).toBeUndefined();
  });

  test.each(['../outside.hold', '/etc/x', 'holds/../../x'])('the path %s is refused', (name) => {
    const [target] = world();
    expect(() => operate(game, 'Install', [{ ...target!, path: name }], places)).toThrow(
      'is not a path that may be written',
    );
  });

  test('a link in the game folder does not lead outside', () => {
    const [target] = world();
    fs.symlinkSync(root, path.join(game, 'link'));
    fs.writeFileSync(path.join(root, 'x.hold'), 'x');
    expect(() =>
      operate(game, 'Install', [{ ...target!, path: 'link/x.hold', before: sha('x') }], places),
    ).toThrow('a link leads out');
    expect(fs.readFileSync(path.join(root, 'x.hold'), 'utf8')).toBe('x');
  });
});

describe('killed at any moment', () => {
  const script = path.resolve('src/server/installing/placing/operate.ts');

  function installer(targets: readonly Target[]): ReturnType<typeof spawn> {
    const code = `import { operate } from ${JSON.stringify(script)};
      process.stdout.write('go');
      operate(${JSON.stringify(game)}, 'Install', ${JSON.stringify(targets)}, ${JSON.stringify(places)}, { onStep: (what) => process.stdout.write(what + '\\n') });`;
    const file = path.join(root, 'install.mts');
    fs.writeFileSync(file, code);
    return spawn(process.execPath, ['--import', 'tsx', file], {
      stdio: ['ignore', 'pipe', 'inherit'],
      env: { ...process.env, NODE_OPTIONS: '', TSX_TSCONFIG_PATH: path.resolve('tsconfig.json') },
    });
  }

  /** Kills it once it has said `count` things, so that every step is cut once. */
  async function killAfter(targets: readonly Target[], count: number): Promise<void> {
    const child = installer(targets);
    let said = 0;
    child.stdout!.on('data', (piece: Buffer) => {
      said += piece.toString().split('\n').length - 1;
      if (said >= count) child.kill('SIGKILL');
    });
    await new Promise((resolve) => child.once('exit', resolve));
  }

  test('the folder is the old or the new one after the next start, which says which', async () => {
    const outcomes = new Set<string>();
    for (let cut = 0; cut <= 12; cut += 2) {
      const targets = world(1_500_000);
      await killAfter(targets, cut);
      const said = mendAll();
      for (const { outcome } of said) outcomes.add(outcome);
      const now = state();
      const old = JSON.stringify(now) === JSON.stringify(wanted(targets, 'before'));
      const fresh = JSON.stringify(now) === JSON.stringify(wanted(targets, 'after'));
      expect({ cut, old, fresh, files: Object.keys(now) }).toEqual({
        cut,
        old: !fresh,
        fresh: !old,
        files: Object.keys(wanted(targets, 'after')),
      });
      if (said.length > 0) expect(said[0]!.outcome).toBe(old ? 'old' : 'new');
      expect(fs.readdirSync(places.journals)).toEqual([]);
    }
    expect(outcomes.size).toBeGreaterThan(0);
  }, 120_000);

  test('cut between the renames, the rest is placed', () => {
    const targets = world();
    const id = 'cut';
    const files = targets.map(({ path: name, before, after }) => ({ path: name, before, after }));
    targets.forEach((target, i) => {
      const beside = path.join(game, path.dirname(target.path), `.${path.basename(target.path)}.${id}.new`);
      fs.copyFileSync(target.from!, beside);
      if (i < 2) fs.renameSync(beside, path.join(game, target.path));
    });
    fs.writeFileSync(
      path.join(places.journals, `${id}.json`),
      JSON.stringify({ id, title: 'Install', folder: game, state: 'committing', files }),
    );
    expect(mendAll()).toEqual([expect.objectContaining({ outcome: 'new' })]);
    expect(state()).toEqual(wanted(targets, 'after'));
  });

  test('what cannot be mended is said and kept for later', () => {
    const targets = world();
    fs.writeFileSync(
      path.join(places.journals, 'x.json'),
      JSON.stringify({
        id: 'x',
        title: 'Install',
        folder: path.join(root, 'unplugged'),
        state: 'committing',
        files: targets.map(({ path: name, before, after }) => ({ path: name, before, after })),
      }),
    );
    expect(mendAll()[0]).toMatchObject({ outcome: 'stuck' });
    expect(fs.readdirSync(places.journals)).toEqual(['x.json']);
  });

  describe('it looks before it writes', () => {
    /** An operation whose first files were placed when it was killed. */
    function cutShort(placed: number): { targets: Target[]; beside: (i: number) => string } {
      const targets = world();
      const beside = (i: number): string => {
        const { path: name } = targets[i]!;
        return path.join(game, path.dirname(name), `.${path.basename(name)}.cut.new`);
      };
      targets.forEach((target, i) => {
        fs.mkdirSync(places.originals, { recursive: true });
        fs.copyFileSync(path.join(game, target.path), originalFile(places.originals, target.before!));
        fs.copyFileSync(target.from!, beside(i));
        if (i < placed) fs.renameSync(beside(i), path.join(game, target.path));
      });
      const files = targets.map(({ path: name, before, after }) => ({ path: name, before, after }));
      fs.writeFileSync(
        path.join(places.journals, 'cut.json'),
        JSON.stringify({ id: 'cut', title: 'Install', folder: game, state: 'committing', files }),
      );
      return { targets, beside };
    }

    test.each([0, 1, 3, 4])('with %i placed, what somebody wrote meanwhile stays and is told', (placed) => {
      const { targets } = cutShort(placed);
      const name = 'c.hold';
      fs.writeFileSync(path.join(game, name), 'of the game’s own update');
      const [mended] = mendAll();
      expect(mended).toMatchObject({
        outcome: 'new',
        detail: expect.stringContaining('c.hold had been changed'),
      });
      const found = sha('of the game’s own update');
      expect(state()).toEqual({ ...wanted(targets, 'after'), [name]: found });
      expect(sha(fs.readFileSync(originalFile(places.originals, found)))).toBe(found);
      expect(mendAll()).toEqual([]);
    });

    test('a new file that is gone has all the others go back', () => {
      const { targets, beside } = cutShort(2);
      fs.rmSync(beside(3));
      expect(mendAll()).toEqual([
        expect.objectContaining({ outcome: 'old', detail: expect.stringContaining('The new d.hold') }),
      ]);
      expect(state()).toEqual(wanted(targets, 'before'));
    });

    test('what was placed is told again and again until it is recorded', () => {
      const targets = world();
      const journal = begin(game, 'Install', targets, places, { about: { any: 1 } });
      for (let i = 0; i < 3; i++) {
        const [open] = readJournals(places.journals);
        expect(open!.journal).toEqual(journal);
        expect(mend(open!.journal, places).placed).toEqual(journal);
      }
      expect(state()).toEqual(wanted(targets, 'after'));
    });
  });
});

describe('two operations', () => {
  test('are not done to one folder while one is open', () => {
    const targets = world();
    const journal = begin(game, 'Install', targets, places);
    const back = targets.map((one): Target => ({
      ...one,
      before: one.after,
      after: one.before,
      from: originalFile(places.originals, one.before!),
    }));
    expect(() => begin(game, 'Restore', back, places)).toThrow('Something else is done to');
    expect(state()).toEqual(wanted(targets, 'after'));
    closeJournal(places.journals, journal.id);
    operate(game, 'Restore', back, places);
    expect(state()).toEqual(wanted(targets, 'before'));
  });

  test('begun at the same moment by two processes come to one', async () => {
    const targets = world(1_500_000);
    const code = `import { operate } from ${JSON.stringify(path.resolve('src/server/installing/placing/operate.ts'))};
      try { operate(${JSON.stringify(game)}, 'Install', ${JSON.stringify(targets)}, ${JSON.stringify(places)}); console.log('done'); }
      catch (error) { console.log(error.message); }`;
    const file = path.join(root, 'both.mts');
    fs.writeFileSync(file, code);
    const said = await Promise.all(
      [0, 1].map(
        () =>
          new Promise<string>((resolve) => {
            const child = spawn(process.execPath, ['--import', 'tsx', file], {
              stdio: ['ignore', 'pipe', 'inherit'],
              env: { ...process.env, NODE_OPTIONS: '', TSX_TSCONFIG_PATH: path.resolve('tsconfig.json') },
            });
            let text = '';
            child.stdout.on('data', (piece: Buffer) => (text += piece.toString()));
            child.once('exit', () => resolve(text.trim()));
          }),
      ),
    );
    expect(said.filter((text) => text === 'done')).toHaveLength(1);
    expect(said.find((text) => text !== 'done')).toMatch(/Something else is done to|is not what it was/);
    expect(state()).toEqual(wanted(targets, 'after'));
    expect(readJournals(places.journals)).toHaveLength(1);
  }, 180_000);
});

describe('a file that cannot be placed', () => {
  test.each(NAMES)('%s: all that were go back at once', (name) => {
    const targets = world();
    const onStep = (what: string): void => {
      if (what !== `placing ${name}`) return;
      const beside = fs
        .readdirSync(path.join(game, path.dirname(name)))
        .find((one) => one.startsWith(`.${path.basename(name)}.`))!;
      fs.rmSync(path.join(game, path.dirname(name), beside));
    };
    expect(() => begin(game, 'Install', targets, places, { onStep })).toThrow('could not be placed');
    expect(state()).toEqual(wanted(targets, 'before'));
    expect(fs.readdirSync(places.journals)).toEqual([]);
  });

  test('a folder in its place is left as it is, and the others go back', () => {
    const targets = world();
    const onStep = (what: string): void => {
      if (what !== 'placing d.hold') return;
      fs.rmSync(path.join(game, 'd.hold'));
      fs.mkdirSync(path.join(game, 'd.hold/inner'), { recursive: true });
    };
    expect(() => begin(game, 'Install', targets, places, { onStep })).toThrow('could not be placed');
    expect(state()).toEqual(
      Object.fromEntries(Object.entries(wanted(targets, 'before')).filter(([name]) => name !== 'd.hold')),
    );
    expect(fs.statSync(path.join(game, 'd.hold/inner')).isDirectory()).toBe(true);
    expect(fs.readdirSync(places.journals)).toEqual([]);
  });
});

test('what was being written as a journal by a worker that was killed is swept, journals and what is being written are not', () => {
  const at = (name: string, secondsAgo: number): void => {
    const file = path.join(places.journals, name);
    fs.writeFileSync(file, '{}');
    const then = Date.now() / 1000 - secondsAgo;
    fs.utimesSync(file, then, then);
  };
  at('a.json', 1000);
  at('a.json.one.new', 1000);
  at('b.json.two.new', 1);
  sweepJournals(places.journals);
  expect(fs.readdirSync(places.journals).sort()).toEqual(['a.json', 'b.json.two.new']);
});
