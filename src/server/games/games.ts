import fs from 'node:fs';
import path from 'node:path';
import { GameRow, InstallationRow, KeyRow, models, ModRow } from '@/db';
import { isInside } from '@/platform/node/inside';
import { isHome } from '@/platform/node/system-folders';
import { refuseForeign } from '../installing/foreign-folders';
import { standInFor } from '../running/stand-ins';
import { storageFolder } from '../storage/storage';
import { notFound, UserError } from '@/platform/user-error';

export interface GameView {
  readonly id: number;
  readonly title: string;
  readonly folder: string;
  readonly notes: string;
  /** What its makers say about changing it, as the user noted it. */
  readonly terms: string;
  /** Folder in which it looks for loose files before its archives; empty where it does not. */
  readonly looseFolder: string;
  readonly standIn: string | null;
  readonly scannedAt: string | null;
  /** Whether the folder is there right now. */
  readonly present: boolean;
}

const viewOf = (row: GameRow): GameView => ({
  id: row.id,
  title: row.title,
  folder: row.folder,
  notes: row.notes,
  terms: row.terms,
  looseFolder: row.looseFolder,
  standIn: row.standIn,
  scannedAt: row.scannedAt?.toISOString() ?? null,
  present: isFolder(row.folder),
});

const isFolder = (folder: string): boolean =>
  fs.statSync(folder, { throwIfNoEntry: false })?.isDirectory() ?? false;

export async function listGames(): Promise<GameView[]> {
  models();
  return (await GameRow.findAll({ order: [['title', 'ASC']] })).map(viewOf);
}

export async function findGame(id: number): Promise<GameView> {
  models();
  const row = await GameRow.findByPk(id);
  if (!row) throw notFound('The game');
  return viewOf(row);
}

/** The game, whose folder must be there; everything that reads or writes files begins with this. */
export async function presentGame(id: number): Promise<GameView> {
  const game = await findGame(id);
  if (!game.present)
    throw new UserError(
      410,
      `The folder of ${game.title}, ${game.folder}, is no longer there. Put it back or mount it again, or give its new place on the Folder screen. Keys, mods and originals are kept.`,
    );
  return game;
}

/** Checks a folder that is to be registered and gives its real path. */
async function checkFolder(folder: string, except?: number): Promise<string> {
  if (!path.isAbsolute(folder))
    throw new UserError(
      400,
      `Give the whole path of the folder, beginning with ${path.parse(process.cwd()).root}.`,
    );
  if (!isFolder(folder))
    throw new UserError(400, `${folder} is not a folder. Check the spelling, and that the drive is mounted.`);
  const real = fs.realpathSync(folder);
  refuseForeign(real);
  for (const other of await GameRow.findAll())
    if (other.id !== except && (isInside(other.folder, real) || isInside(real, other.folder)))
      throw new UserError(
        409,
        `${real} and the folder of ${other.title}, ${other.folder}, lie in each other. Remove that one first, or choose another level.`,
      );
  return real;
}

/** So many files are more than a game has. */
const MANY_FILES = 200_000;

/** Asks about what hardly is the folder of one game, before all of it is read. Throws UserError 428 with the question. */
async function askAbout(real: string): Promise<void> {
  const again = 'Choose the folder of the one game, or say that this is what you mean.';
  if (isHome(real))
    throw new UserError(428, `${real} is a whole home folder, and all of it would be read. ${again}`);
  let files = 0;
  const waiting = [real];
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    // What cannot be read is told of by the scan.
    const items = await fs.promises.readdir(at, { withFileTypes: true }).catch(() => []);
    for (const item of items)
      if (item.isDirectory()) waiting.push(path.join(at, item.name));
      else files++;
    if (files + waiting.length > MANY_FILES)
      throw new UserError(
        428,
        `${real} holds more than ${MANY_FILES.toLocaleString('en')} files, and all of them would be looked at. ${again}`,
      );
  }
}

export async function addGame(input: {
  title: string;
  folder: string;
  notes?: string;
  /** The user was asked about a folder that hardly is one game, and said so. */
  isSure?: boolean;
}): Promise<GameView> {
  models();
  const folder = await checkFolder(input.folder);
  if (!input.isSure) await askAbout(folder);
  return viewOf(
    await GameRow.create({
      title: input.title,
      folder,
      notes: input.notes ?? '',
      standIn: standInFor(folder)?.id ?? null,
    }),
  );
}

export async function changeGame(
  id: number,
  input: {
    title?: string | undefined;
    notes?: string | undefined;
    folder?: string | undefined;
    /** A game of its own that has this very folder is taken off the shelf, and its keys are taken over. */
    takeOver?: boolean | undefined;
  },
): Promise<GameView> {
  models();
  const row = await GameRow.findByPk(id);
  if (!row) throw notFound('The game');
  if (input.title !== undefined) row.title = input.title;
  if (input.notes !== undefined) row.notes = input.notes;
  if (input.folder !== undefined) {
    if (input.takeOver) await takeOver(id, input.folder);
    row.folder = await checkFolder(input.folder, id);
    row.standIn = standInFor(row.folder)?.id ?? null;
  }
  await row.save();
  return viewOf(row);
}

/** Takes the game that has this very folder off the shelf in favour of another; its keys go with the folder. */
async function takeOver(id: number, folder: string): Promise<void> {
  if (!isFolder(folder)) return;
  const real = fs.realpathSync(folder);
  const other = (await GameRow.findAll()).find((one) => one.id !== id && one.folder === real);
  if (!other) return;
  if ((await ModRow.count({ where: { gameId: other.id } })) > 0)
    throw new UserError(
      409,
      `${other.title} has mods of its own, which would be forgotten. Take it off the shelf yourself, or choose another folder.`,
    );
  const active = await InstallationRow.findOne({ where: { gameId: other.id, state: 'installed' } });
  await models().transaction(async () => {
    await KeyRow.update({ gameId: id }, { where: { gameId: other.id } });
    await removeGame(other.id, active !== null);
  });
}

/** Forgets a game. Its folder is not touched; one that has a mod installed is to be restored first. */
export async function removeGame(id: number, installed: boolean): Promise<void> {
  models();
  if (installed)
    throw new UserError(
      409,
      'A mod is installed in this game. Restore it first, so that the originals are not forgotten.',
    );
  await GameRow.destroy({ where: { id } });
  // What was made from its archives can be made again.
  for (const kind of ['catalogues', 'thumbnails', 'measured', 'readings'])
    fs.rmSync(storageFolder(kind, String(id)), { recursive: true, force: true });
}
