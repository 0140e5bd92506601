import { FormatError } from '@/core/bytes';
import { compareBytes, type Comparison } from '@/core/compare';
import { pathStrings } from '@/core/names';
import { gameCatalogue, recordOf, type EntryRecord } from './catalogue';
import { openedEntry } from './opened';
import { firstBytes } from './heads';
import { UserError } from './user-error';

/** What an entry has to do with others. */
export interface EntryLinks {
  /** Entries whose path stands in this one. */
  readonly refersTo: readonly EntryRecord[];
  /** Paths in it that no open archive has. */
  readonly missing: readonly string[];
  /** Entries with the very same bytes under another path or in another archive. */
  readonly identical: readonly EntryRecord[];
  /** Entries of the same size that were not looked at, where there are too many. */
  readonly notCompared: number;
}

const MOST_READ_BYTES = 8 << 20;
const MOST_COMPARED = 100;
const MOST_COMPARED_BYTES = 256 << 20;
const MOST_LISTED = 200;

/** What an entry refers to, and where the same content lies elsewhere; both from the bytes as they are now. */
export async function entryLinks(gameId: number, archiveId: number, index: number): Promise<EntryLinks> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { catalogue, archives } = game;
  const { archive, entry } = await openedEntry(gameId, archiveId, index);
  const position = archives.findIndex(({ id }) => id === archiveId);
  const own = catalogue.rowOf(position, index);
  const refersTo = new Map<number, EntryRecord>();
  const missing = new Set<string>();
  for (const name of pathStrings(firstBytes(archive.plain(entry), MOST_READ_BYTES))) {
    if (refersTo.size >= MOST_LISTED) break;
    const [row] = catalogue.stack(name);
    if (row !== undefined && row !== own) refersTo.set(row, recordOf(game, row));
    else if (row === undefined && name.includes('/') && /\.[a-z0-9]{2,6}$/i.test(name) && missing.size < 50)
      missing.add(name);
  }
  const { sizes } = catalogue.columns;
  const size = own < 0 ? -1 : sizes[own]!;
  const same: number[] = [];
  for (let row = 0; size > 0 && row < catalogue.count; row++)
    if (sizes[row] === size && row !== own && archives[catalogue.columns.archives[row]!]!.path !== '')
      same.push(row);
  const most = Math.max(1, Math.min(MOST_COMPARED, Math.floor(MOST_COMPARED_BYTES / Math.max(1, size))));
  const identical: EntryRecord[] = [];
  for (const row of same.slice(0, most)) {
    const record = recordOf(game, row);
    try {
      const other = await openedEntry(gameId, record.archiveId, record.index);
      if (compareBytes(archive.plain(entry), other.archive.plain(other.entry)).isSame) identical.push(record);
    } catch (error) {
      // One that cannot be read is the same as nothing.
      if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    }
  }
  return {
    refersTo: [...refersTo.values()],
    missing: [...missing],
    identical,
    notCompared: Math.max(0, same.length - most),
  };
}

/** Two entries held against each other. */
export async function compareEntries(
  gameId: number,
  one: { archiveId: number; index: number },
  other: { archiveId: number; index: number },
): Promise<Comparison & { sizes: readonly [number, number] }> {
  const a = await openedEntry(gameId, one.archiveId, one.index);
  const b = await openedEntry(gameId, other.archiveId, other.index);
  const [left, right] = [a.archive.plain(a.entry), b.archive.plain(b.entry)];
  return { ...compareBytes(left, right), sizes: [left.length, right.length] };
}
