import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { operate, originalFile, recover, type InstallerPlaces, type Target } from './index';

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
  const script = path.resolve('src/server/installer/operate.ts');

  function installer(targets: readonly Target[]): ReturnType<typeof spawn> {
    const code = `import { operate } from ${JSON.stringify(script)};
      process.stdout.write('go');
      operate(${JSON.stringify(game)}, 'Install', ${JSON.stringify(targets)}, ${JSON.stringify(places)}, (what) => process.stdout.write(what + '\\n'));`;
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
      const said = recover(places);
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
    expect(recover(places)).toEqual([expect.objectContaining({ outcome: 'new' })]);
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
    expect(recover(places)[0]).toMatchObject({ outcome: 'stuck' });
    expect(fs.readdirSync(places.journals)).toEqual(['x.json']);
  });
});
