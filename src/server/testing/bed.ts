import { randomBytes } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { database, migrate } from '@/db';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { addGame, type GameView } from '../games/games';
import type { JobContext } from '../running/job-context';
import { scanGame } from '../scan/scan';
import { keepBlob } from '../storage/storage';
import { findEntries } from '../entries/entries';

/** A job that runs to its end unseen. */
export const quietJob = (): JobContext => ({
  id: '00000000-0000-4000-8000-000000000000',
  progress: () => undefined,
  check: () => undefined,
  isHeld: () => false,
  show: () => undefined,
  nudge: () => undefined,
});

/** Runs statements in the cluster of this run, beside the databases of tests. */
async function inCluster(sql: string): Promise<void> {
  const client = new pg.Client(process.env.ZERO_LATCH_TEST_CLUSTER);
  await client.connect();
  try {
    await client.query(sql);
  } finally {
    await client.end();
  }
}

export interface Entry {
  readonly archiveId: number;
  readonly index: number;
}

/**
 * What use cases need to run for real: a database of their own in the cluster of this run, a storage, and a folder for games. Begun
 * before the tests of a file and taken away after them.
 */
export class TestBed {
  readonly folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bed-'));
  /** Apart from the games, which may not lie where the application keeps its own files. */
  private readonly own = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bed-own-'));
  private readonly name = `bed_${randomBytes(6).toString('hex')}`;

  /** Makes the database; `isEmpty` leaves it without tables. */
  async begin(isEmpty = false): Promise<void> {
    const cluster = process.env.ZERO_LATCH_TEST_CLUSTER;
    if (!cluster) throw new Error('no database was begun for these tests: see bin/lib/test-cluster.mjs');
    await inCluster(`CREATE DATABASE ${this.name}`);
    process.env.DATABASE_URL = cluster.replace(/\/postgres$/, `/${this.name}`);
    process.env.ZERO_LATCH_STORAGE = path.join(this.own, 'storage');
    fs.mkdirSync(process.env.ZERO_LATCH_STORAGE);
    if (!isEmpty) await migrate(database());
  }

  async end(): Promise<void> {
    await database().close();
    globalThis.zeroLatchDatabase = undefined;
    await inCluster(`DROP DATABASE ${this.name} WITH (FORCE)`);
    for (const one of [this.folder, this.own]) fs.rmSync(one, { recursive: true, force: true });
  }

  /** A game whose archives are ZIPs with these files, with others beside them, scanned. */
  async game(
    title: string,
    archives: Readonly<Record<string, Readonly<Record<string, string | Uint8Array>>>>,
    loose: Readonly<Record<string, string>> = {},
  ): Promise<GameView> {
    const folder = path.join(this.folder, title);
    for (const [name, files] of Object.entries(archives)) this.zipBytes(path.join(folder, name), files);
    for (const [name, text] of Object.entries(loose)) {
      fs.mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
      fs.writeFileSync(path.join(folder, name), text);
    }
    const game = await addGame({ title, folder, notes: '' });
    await this.scan(game);
    return game;
  }

  async scan(game: GameView): Promise<void> {
    await scanGame(game.id, quietJob());
  }

  /** Writes a ZIP with the ordinary program. */
  zip(file: string, files: Readonly<Record<string, string>>): void {
    this.zipBytes(file, files);
  }

  zipBytes(file: string, files: Readonly<Record<string, string | Uint8Array>>): void {
    const inner = fs.mkdtempSync(path.join(this.folder, 'inner-'));
    for (const [name, text] of Object.entries(files)) {
      fs.mkdirSync(path.join(inner, path.dirname(name)), { recursive: true });
      fs.writeFileSync(path.join(inner, name), text);
    }
    fs.mkdirSync(path.dirname(file), { recursive: true });
    execFileSync('zip', ['-qrX', file, ...Object.keys(files)], { cwd: inner });
  }

  /** What the ordinary program reads out of a ZIP. */
  unzipped(file: string, name: string): string {
    return execFileSync('unzip', ['-p', file, name], { encoding: 'utf8' });
  }

  unzippedBytes(file: string, name: string): Buffer {
    return execFileSync('unzip', ['-p', file, name]);
  }

  /** The entry that answers for a path. */
  async entry(game: GameView, wanted: string): Promise<Entry> {
    const { rows } = await findEntries({
      ...{ gameId: game.id, folder: '', search: '', kind: undefined, archiveId: undefined },
      ...{ sort: 'path', isDescending: false, offset: 0, limit: 1000 },
    });
    const found = rows.find((one) => one.path === wanted && one.wins);
    if (!found) throw new Error(`${wanted} is not among ${rows.map(({ path: name }) => name).join(', ')}`);
    return { archiveId: found.archiveId, index: found.index };
  }

  /** The same, opened. */
  async opened(game: GameView, wanted: string): Promise<OpenedEntry> {
    const { archiveId, index } = await this.entry(game, wanted);
    return openedEntry(game.id, archiveId, index);
  }

  /** Something that was uploaded. */
  given(name: string, text: string): { name: string; blob: string; size: number } {
    const bytes = new TextEncoder().encode(text);
    return { name, blob: keepBlob(bytes), size: bytes.length };
  }
}
