import fs from 'node:fs';
import { openArchive, type Archive, type Entry, type Names } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import type { Keys, Script } from '@/core/script';
import { ArchiveRow, KeyRow, models } from '@/db';
import { companionsOf, type Companions } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { resolveInside } from '@/platform/node/inside';
import { nodePrimitives } from '@/platform/node/primitives';
import { presentGame } from './games';
import { scriptById } from './scripts';
import { notFound, UserError } from './user-error';

interface Held {
  readonly archive: Archive;
  readonly close: () => void;
  readonly stamp: string;
}

declare global {
  var zeroLatchOpened: Map<number, Held> | undefined;
}

/** How many archives stay open between requests. */
const MOST_OPEN = 12;

/** The keys of a script when one key of the keyring is used for all of them. */
export const keysWith = (script: Script, bytes: Uint8Array | undefined): Keys =>
  new Map(bytes ? [...script.keys.keys()].map((name) => [name, bytes]) : []);

export async function keyBytes(keyId: number | null): Promise<Uint8Array | undefined> {
  if (keyId === null) return undefined;
  const key = await KeyRow.findByPk(keyId);
  return key ? new Uint8Array(key.bytes) : undefined;
}

export async function archiveRow(gameId: number, archiveId: number): Promise<ArchiveRow> {
  models();
  const row = await ArchiveRow.findOne({ where: { id: archiveId, gameId } });
  if (!row) throw notFound('The archive');
  return row;
}

/** Opens an archive file by a script; the caller closes the source. */
export function openFile(
  file: string,
  name: string,
  script: Script,
  keys: Keys,
  names?: Names,
  companions: Companions = companionsOf(file, { nameOf: besides(name) }),
): { archive: Archive; close: () => void } {
  const source = openFileSource(file, name);
  const close = (): void => {
    source.close();
    companions.close();
  };
  try {
    const archive = openArchive(script, source, {
      primitives: nodePrimitives,
      keys,
      companion: companions.find,
      ...(names && { names }),
    });
    return {
      archive,
      close() {
        archive.discard();
        close();
      },
    };
  } catch (error) {
    close();
    throw error;
  }
}

/** What a file beside one of the game folder is called in the folder's terms. */
export const besides =
  (name: string) =>
  (relative: string): string =>
    name.slice(0, name.lastIndexOf('/') + 1) + relative;

/** An archive of a game, opened with the key that the scan proved; kept open while the file stays the same. */
export async function openedArchive(
  gameId: number,
  archiveId: number,
): Promise<{ row: ArchiveRow; archive: Archive }> {
  const game = await presentGame(gameId);
  const row = await archiveRow(gameId, archiveId);
  const script = row.script === null ? undefined : scriptById(row.script);
  if (row.state !== 'open' || !script)
    throw new UserError(409, `${row.path} is not open: ${row.reason}. ${row.nextStep}`);
  const file = resolveInside(game.folder, row.path);
  const stat = fs.statSync(file, { throwIfNoEntry: false });
  if (!stat)
    throw new UserError(
      410,
      `${row.path} is no longer in the game folder. Put it back and scan the folder again.`,
    );
  const stamp = `${file} ${stat.ino} ${stat.size} ${stat.mtimeMs} ${row.keyId} ${row.script}`;
  const held = (globalThis.zeroLatchOpened ??= new Map<number, Held>());
  const known = held.get(archiveId);
  held.delete(archiveId);
  if (known?.stamp === stamp) {
    held.set(archiveId, known);
    return { row, archive: known.archive };
  }
  known?.close();
  const opened = openFile(file, row.path, script, keysWith(script, await keyBytes(row.keyId)));
  held.set(archiveId, { ...opened, stamp });
  for (const [id, old] of held) {
    if (held.size <= MOST_OPEN) break;
    old.close();
    held.delete(id);
  }
  return { row, archive: opened.archive };
}

export async function openedEntry(
  gameId: number,
  archiveId: number,
  index: number,
): Promise<{ row: ArchiveRow; archive: Archive; entry: Entry }> {
  const { row, archive } = await openedArchive(gameId, archiveId);
  const entry = archive.entries[index];
  if (!entry)
    throw new FormatError('bad-value', {
      file: row.path,
      expected: `an entry below ${archive.entries.length}`,
      actual: `${index}`,
    });
  return { row, archive, entry };
}
