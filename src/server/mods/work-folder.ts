import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import type { Mend } from '@/core/fit';
import { readLedger } from '@/core/recipe';
import { ChangeRow, ModRow, models } from '@/db';
import { noteTakenFile } from '@/db/choices';
import { hashOfFile } from '@/platform/node/content-hash';
import { makeFolders } from '@/platform/node/make-folders';
import { LOG_NAME } from '@/platform/node/run-log';
import { LEDGER, PART } from '@/platform/node/written-folder';
import { log } from '../log';
import { meantBy, replacePath } from './incoming';
import { modRow, updateMod } from './mods';
import { checkOutputFolder } from '../recipes/output-folder';
import { keepBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/**
 * How often folders are looked through, and how much of the time that may take at most. A file is taken once it has
 * been the same twice, so that none is taken half-saved.
 */
const LOOK_MS = 1000;
const MOST_SHARE = 0.05;
const MOST_FILES = 20_000;
const MOST_BYTES = 512 << 20;
const MOST_TOLD = 50;

/** What became of files of a work folder that were not taken. */
export interface WorkNote {
  readonly file: string;
  readonly problem: string;
}

interface Watched {
  /** Size and time of each file as it was seen last. */
  readonly seen: Map<string, string>;
  /** Size and time of each file as it was when it was looked into. */
  readonly done: Map<string, string>;
  notes: WorkNote[];
}

declare global {
  var zeroLatchWorkFolders:
    { readonly mods: Map<number, Watched>; readonly timer: NodeJS.Timeout } | undefined;
}

/** Says which folder's files become changes of a mod by themselves; null for none. */
export async function setWorkFolder(gameId: number, modId: number, folder: string | null): Promise<void> {
  if (folder === null) return updateMod(gameId, modId, { workFolder: null });
  const real = await checkOutputFolder(folder);
  makeFolders(real);
  await updateMod(gameId, modId, { workFolder: real });
  globalThis.zeroLatchWorkFolders?.mods.delete(modId);
}

export async function workNotes(gameId: number, modId: number): Promise<readonly WorkNote[]> {
  await modRow(gameId, modId);
  return globalThis.zeroLatchWorkFolders?.mods.get(modId)?.notes ?? [];
}

/** Begins to look through the work folders of all mods; one look after the other. */
export function watchWorkFolders(): void {
  if (globalThis.zeroLatchWorkFolders) return;
  let isLooking = false;
  let restsUntil = 0;
  const timer = setInterval(() => {
    const began = performance.now();
    if (isLooking || began < restsUntil) return;
    isLooking = true;
    void lookThrough()
      .catch((error: unknown) => log.warn({ error: String(error) }, 'work folders'))
      .finally(() => {
        isLooking = false;
        const now = performance.now();
        restsUntil = now + (now - began) / MOST_SHARE;
      });
  }, LOOK_MS);
  timer.unref();
  globalThis.zeroLatchWorkFolders = { mods: new Map(), timer };
}

async function lookThrough(): Promise<void> {
  models();
  for (const mod of await ModRow.findAll()) {
    if (mod.workFolder === null) continue;
    const { mods } = globalThis.zeroLatchWorkFolders!;
    let watched = mods.get(mod.id);
    if (!watched) mods.set(mod.id, (watched = { seen: new Map(), done: new Map(), notes: [] }));
    // One folder that cannot be read must not keep others from being looked at.
    try {
      await lookAt(mod, mod.workFolder, watched);
    } catch (error) {
      watched.notes = [
        { file: mod.workFolder, problem: error instanceof Error ? error.message : String(error) },
      ];
    }
  }
}

/** Files below a folder with size and time; hidden ones and half-written ones are passed over, links are not followed. */
function filesBelow(folder: string): Map<string, string> {
  const files = new Map<string, string>();
  const visit = (inner: string): void => {
    for (const entry of fs.readdirSync(path.join(folder, inner), { withFileTypes: true })) {
      if (entry.name.startsWith('.') || entry.name.endsWith(PART) || entry.name.endsWith('~')) continue;
      const file = inner === '' ? entry.name : `${inner}/${entry.name}`;
      if (entry.isDirectory()) visit(file);
      else if (entry.isFile() && files.size < MOST_FILES) {
        const stat = fs.lstatSync(path.join(folder, file), { throwIfNoEntry: false });
        if (stat) files.set(file, `${stat.size} ${stat.mtimeMs}`);
      }
    }
  };
  try {
    visit('');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
  }
  return files;
}

async function lookAt(mod: ModRow, folder: string, watched: Watched): Promise<void> {
  const files = filesBelow(folder);
  const ready = [...files].filter(
    ([file, stamp]) => watched.seen.get(file) === stamp && watched.done.get(file) !== stamp,
  );
  watched.seen.clear();
  for (const [file, stamp] of files) watched.seen.set(file, stamp);
  if (ready.length === 0) return;
  const ledgerFile = path.join(folder, LEDGER);
  const written = fs.existsSync(ledgerFile) ? readLedger(fs.readFileSync(ledgerFile, 'utf8')) : new Map();
  for (const [file, stamp] of ready) {
    const isNew = !watched.done.has(file);
    watched.done.set(file, stamp);
    watched.notes = watched.notes.filter((note) => note.file !== file);
    try {
      const full = path.join(folder, file);
      const old = written.get(file);
      // Just as an extraction left it.
      if (old && hashOfFile(full) === old.content) continue;
      if (file === LOG_NAME) continue;
      await take(mod, full, file, { entryPath: old?.path, isNew });
    } catch (error) {
      if (!(error instanceof Error)) throw error;
      watched.notes = [...watched.notes, { file, problem: error.message }].slice(-MOST_TOLD);
      log.info({ file, error: error.message }, 'a file of a work folder was not taken');
    }
  }
}

async function take(
  mod: ModRow,
  full: string,
  file: string,
  { entryPath, isNew }: { entryPath: string | undefined; isNew: boolean },
): Promise<void> {
  const { size } = fs.statSync(full);
  if (size > MOST_BYTES) throw new UserError(413, `It is larger than ${MOST_BYTES / 2 ** 20} MB.`);
  const bytes = fs.readFileSync(full);
  const sha256 = createHash('sha256').update(bytes).digest('hex');
  const wanted = entryPath ?? (await meantBy(mod.gameId, file));
  const standing = await ChangeRow.findOne({ where: { modId: mod.id, path: wanted } });
  // Seen for the first time since the start: what was put in once and taken out again must not come back by itself.
  const wasTaken = !(await noteTakenFile(mod.id, wanted, sha256));
  if (standing?.givenBlob === sha256 || (isNew && wasTaken)) return;
  const given = { name: path.basename(file), blob: keepBlob(bytes), size };
  // A mend that was chosen for this slot is meant for the next save as well.
  await replacePath(mod.gameId, mod.id, wanted, given, (standing?.mends ?? []) as Mend[]);
}
