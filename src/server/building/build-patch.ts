import path from 'node:path';
import type { Archive } from '@/core/archive';
import { asCount, type RecordNode } from '@/core/script';
import { ArchiveRow, type ChangeRow } from '@/db';
import { broughtFiles } from '../installing/installations';
import { openedArchive } from '../opening/opened';
import { scriptById } from '../opening/scripts';
import { UserError } from '@/platform/user-error';

/** A patch archive: its path in the game folder, and the number by which it is loaded: behind all others, and several in the order of what they are made from. */
export interface Patch {
  readonly name: string;
  readonly rank: number;
}

/** A title as a part of a file name. */
export const slugOf = (title: string): string =>
  title
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40) || 'mod';

/**
 * What an archive with nothing but the changes of another one is called and loaded by. Throws UserError where the script does not say
 * what archives are loaded by, or entries are taken out, which no later archive can do.
 */
export async function patchOf(
  gameId: number,
  archivePath: string,
  changes: readonly ChangeRow[],
  title: string,
): Promise<Patch> {
  const gone = changes.find(({ action }) => action === 'remove');
  if (gone)
    throw new UserError(
      409,
      `${gone.path} is taken out. An archive that loads later can only put something in its place; build ${archivePath} anew instead.`,
    );
  const row = await ArchiveRow.findOne({ where: { gameId, path: archivePath } });
  const script = row?.script ? scriptById(row.script) : undefined;
  if (!row || !script?.loadsBy)
    throw new UserError(
      409,
      `The script of ${archivePath} does not say what archives are loaded by (\`loads by\`), so none can be made that loads last.`,
    );
  const brought = await broughtFiles(gameId);
  const ranks = new Map<string, number>();
  for (const other of await ArchiveRow.findAll({ where: { gameId, state: 'open', parentId: null } })) {
    const own = other.script === null ? undefined : scriptById(other.script);
    // One that an earlier build of a mod brought goes when this one comes.
    if (!own?.loadsBy || other.sort !== 'file' || brought.has(other.path)) continue;
    const { part, field } = own.loadsBy;
    const { archive } = await openedArchive(gameId, other.id);
    const record = (archive as Archive).context.part(part) as RecordNode;
    ranks.set(other.path, asCount(record.get(record.type.byName.get(field)!)));
  }
  const { dir, name, ext } = path.posix.parse(archivePath);
  return {
    name: path.posix.join(dir, `${slugOf(title)}-${name}${ext}`),
    rank: 1 + Math.max(0, ...ranks.values()) + (ranks.get(archivePath) ?? 0),
  };
}
