import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawn } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import type { GameView } from '../games/games';
import { travel } from '../mods/history';
import { addMod, listChanges, preparedBytes, removeChange, replaceEntry } from '../mods/mods';
import { TestBed } from '../testing/bed';
import { collectStorage } from './collect-storage';
import { blobFile, keepBlob } from './storage';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('storage', { 'data.zip': { 'odd.txt': 'Odd says nothing.' } });
});
afterAll(() => bed.end());

const YEARS_MS = -1;
const loose = (text: string): string => keepBlob(new TextEncoder().encode(text));

describe('bytes that nothing refers to', () => {
  test('go once they are old enough; what a step may bring back stays', async () => {
    const { id } = await addMod(game.id, 'Talk');
    await replaceEntry(await bed.opened(game, 'odd.txt'), id, bed.given('new.txt', 'Odd says hello.'));
    const [change] = await listChanges(game.id, id);
    await removeChange(game.id, id, change!.id);
    const forgotten = loose('nobody knows me');
    expect(await collectStorage(60_000)).toMatchObject({ blobs: 0 });
    expect(await collectStorage(YEARS_MS)).toMatchObject({ blobs: 1, bytes: 15 });
    expect(fs.existsSync(blobFile(forgotten))).toBe(false);
    await travel(id, 'undo');
    const [back] = await listChanges(game.id, id);
    expect(Buffer.from((await preparedBytes(game.id, id, back!.id)).bytes).toString()).toBe(
      'Odd says hello.',
    );
  });

  test('killed at any moment, it has taken nothing that is needed, and the next one goes on', async () => {
    const { id } = await addMod(game.id, 'Killed');
    await replaceEntry(await bed.opened(game, 'odd.txt'), id, bed.given('new.txt', 'Odd stays.'));
    const many = Array.from({ length: 600 }, (_, i) => loose(`waste ${i}`));
    const left = (): number => many.filter((blob) => fs.existsSync(blobFile(blob))).length;
    const file = path.join(bed.folder, 'collect.mts');
    const module = path.resolve('src/server/storage/collect-storage.ts');
    fs.writeFileSync(
      file,
      `import { collectStorage } from ${JSON.stringify(module)};\nawait collectStorage(-1);\nprocess.exit(0);\n`,
    );
    const child = spawn(process.execPath, ['--import', 'tsx', file], {
      env: { ...process.env, NODE_OPTIONS: '', TSX_TSCONFIG_PATH: path.resolve('tsconfig.json') },
      stdio: 'ignore',
    });
    const ended = new Promise((resolve) => child.once('exit', resolve));
    // It is killed as soon as something is gone, and before all is.
    while (left() === many.length && child.exitCode === null) await new Promise(setImmediate);
    child.kill('SIGKILL');
    await ended;
    expect(left()).toBeLessThan(many.length);
    const rest = left();
    expect(await collectStorage(YEARS_MS)).toMatchObject({ blobs: rest });
    const [change] = await listChanges(game.id, id);
    expect(Buffer.from((await preparedBytes(game.id, id, change!.id)).bytes).toString()).toBe('Odd stays.');
  });
});
