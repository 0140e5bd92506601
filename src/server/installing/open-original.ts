import fs from 'node:fs';
import path from 'node:path';
import type { Archive } from '@/core/archive';
import type { Keys, Script } from '@/core/script';
import type { ArchiveRow } from '@/db';
import { companionsOf } from '@/platform/node/companions';
import { sayWays } from '@/platform/node/media-scripts';
import { UserError } from '@/platform/user-error';
import { gameCatalogue } from '../entries/catalogue';
import { saidWays } from '../entries/way-choices';
import { presentGame, type GameView } from '../games/games';
import { currentScope, heldOrOpened, type Held } from '../opening/held';
import { looseFiles } from '../opening/loose-files';
import { besides, keysWith, openFile, openWithin } from '../opening/open-file';
import { archiveRow, keyBytes, openedArchive, type OpenedArchive } from '../opening/opened';
import { scriptById } from '../opening/scripts';
import { activeInstallation } from './installations';
import { originalChoices } from './originals';
import { sourceFiles } from './source-files';

/** An archive that is a file of its own as it was before any installation, opened for this call alone, which may edit it. */
export async function openOriginal(
  gameId: number,
  row: ArchiveRow,
): Promise<{ archive: Archive; close: () => void }> {
  if (row.state === 'open' && row.sort !== 'file')
    throw new UserError(
      409,
      `${row.path} is no archive in a file of its own, so its entries are not added to or taken out here.`,
    );
  const game = await presentGame(gameId);
  return openNow(game, row, await meansOf(row), await sourceFiles(game));
}

function openNow(
  game: GameView,
  row: ArchiveRow,
  { script, keys }: Means,
  sourceOf: (archive: string) => string,
): { archive: Archive; close: () => void } {
  const beside = companionsOf(path.join(game.folder, row.path), {
    ...{ nameOf: besides(row.path), inPlaceOf: sourceOf },
  });
  return openFile(sourceOf(row.path), row.path, script, keys, undefined, beside);
}

interface Means {
  readonly script: Script;
  readonly keys: Keys;
}

async function meansOf(row: ArchiveRow): Promise<Means> {
  const script = row.script === null ? undefined : scriptById(row.script);
  if (row.state !== 'open' || !script)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  return { script, keys: keysWith(script, await keyBytes(row.keyId)) };
}

/**
 * An archive of a game as it was before any installation, or as the user said that it was: the one in the folder where nothing is installed,
 * and where it came with what is. It is kept open as those of the folder are.
 */
export function openedOriginal(gameId: number, archiveId: number): Promise<OpenedArchive> {
  const known = currentScope()?.known;
  const name = `original ${gameId} ${archiveId}`;
  const before = known?.get(name) as Promise<OpenedArchive> | undefined;
  if (before) return before;
  const asked = originalNow(gameId, archiveId);
  known?.set(name, asked);
  return asked;
}

async function originalNow(gameId: number, archiveId: number): Promise<OpenedArchive> {
  const game = await presentGame(gameId);
  const row = await archiveRow(gameId, archiveId);
  const files = (await activeInstallation(gameId))?.files ?? [];
  const choices = await originalChoices(gameId);
  const top = row.path.split('//')[0]!;
  const isBrought = files.some(({ path: own, before }) => own === top && before === null);
  if (isBrought || (files.length === 0 && choices.size === 0)) return openedArchive(gameId, archiveId);
  const origin = JSON.stringify([files.map((file) => [file.path, file.before, file.after]), [...choices]]);
  const { archive } = await heldOriginal(game, row, origin);
  return { gameId, row, origin, archive: sayWays(archive, await saidWays(gameId)) };
}

/** Originals are held below zero, the archives of the folder above. */
const numberOf = (id: number): number => -id;

async function heldOriginal(game: GameView, row: ArchiveRow, origin: string): Promise<Held> {
  const held = (within: number | undefined, open: () => Pick<Held, 'archive' | 'close'>, stamp: string) =>
    heldOrOpened(numberOf(row.id), `${origin} ${stamp} ${row.keyId} ${row.script}`, within, open);
  if (row.sort === 'loose') {
    const catalogue = await gameCatalogue(game.id);
    const position = catalogue?.archives.findIndex(({ id }) => id === row.id) ?? -1;
    if (!catalogue || position < 0) throw new UserError(409, 'Scan the folder first.');
    const sourceOf = await sourceFiles(game);
    const archive = looseFiles(game.folder, catalogue, position, sourceOf);
    return held(undefined, () => ({ archive, close: () => undefined }), catalogue.stamp);
  }
  if (row.parentId !== null) {
    const outer = await heldOriginal(game, await archiveRow(game.id, row.parentId), origin);
    const { script, keys } = await meansOf(row);
    const open = () => openWithin(outer.archive, row.parentEntry, row.path, script, keys);
    return held(numberOf(row.parentId), open, `${outer.stamp} ${row.parentEntry}`);
  }
  const stat = fs.statSync(path.join(game.folder, row.path), { throwIfNoEntry: false });
  const means = await meansOf(row);
  const sourceOf = await sourceFiles(game);
  const stamp = `${stat?.ino} ${stat?.size} ${stat?.mtimeMs}`;
  return held(undefined, () => openNow(game, row, means, sourceOf), stamp);
}
