import { FormatError } from '@/core/bytes';
import { HashIndex, hashReferences, namesakesOf, rowSpelled } from '@/core/catalogue';
import { compareBytes } from '@/core/compare';
import { pathStrings } from '@/core/names';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from './catalogue';
import { openedEntry } from '../opening/opened';
import { firstBytes } from '../looking/heads';
import { UserError } from '@/platform/user-error';

/** What an entry has to do with others. */
export interface EntryLinks {
  /** Entries whose path stands in this one. */
  readonly refersTo: readonly EntryRecord[];
  /** How many of those are referred to by the hash of their name. */
  readonly byHash: number;
  /** Where hashes of 32 bits were not looked for: how many would be found by chance. */
  readonly byChance: number | null;
  /** Entries of the same name in other folders, those behind this one first, then round to the beginning. */
  readonly namesakes: readonly EntryRecord[];
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
/** So many paths that are spelled from another beginning are looked for. */
const MOST_LOOKED_FOR = 100;

/** What is a path beyond doubt, and not a word that is called like a file. */
const isPath = (name: string): boolean => name.includes('/') && /\.[a-z0-9]{2,6}$/i.test(name);

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
  let lookedFor = 0;
  const bytes = firstBytes(archive.plain(entry), MOST_READ_BYTES);
  for (const name of pathStrings(bytes)) {
    if (refersTo.size >= MOST_LISTED) break;
    let [row] = catalogue.stack(name);
    // Others are gone through all paths for, which is done for few of them.
    if (row === undefined && isPath(name) && lookedFor++ < MOST_LOOKED_FOR)
      row = rowSpelled(catalogue, name, own);
    if (row !== undefined && row !== own) refersTo.set(row, recordOf(game, row));
    else if (row === undefined && isPath(name) && missing.size < 50) missing.add(name);
  }
  const byPath = refersTo.size;
  const hashed = hashReferences(bytes, hashIndexOf(game), MOST_LISTED);
  for (const { row } of hashed.found) if (row !== own) refersTo.set(row, recordOf(game, row));
  const namesakes = own < 0 ? [] : namesakesOf(catalogue, own);
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
    byHash: refersTo.size - byPath,
    byChance: hashed.byChance ?? null,
    namesakes: aroundOf(namesakes, own).map((row) => recordOf(game, row)),
    missing: [...missing],
    identical,
    notCompared: Math.max(0, same.length - most),
  };
}

/** As many as are listed, those that stand nearest behind the row first in a round. */
function aroundOf(rows: readonly number[], own: number): number[] {
  const behind = rows.filter((row) => row > own);
  return [...behind, ...rows.filter((row) => row < own)].slice(0, MOST_LISTED);
}

declare global {
  var zeroLatchHashIndexes: Map<number, { stamp: string; index: HashIndex }> | undefined;
}

/** The hashes of a game's entries, made when they are first asked for. */
export function hashIndexOf({ catalogue, stamp, archives }: GameCatalogue): HashIndex {
  const kept = (globalThis.zeroLatchHashIndexes ??= new Map<number, { stamp: string; index: HashIndex }>());
  const id = archives[0]?.id ?? 0;
  const known = kept.get(id);
  if (known?.stamp === stamp) return known.index;
  const index = new HashIndex(catalogue);
  if (kept.size > 1) kept.clear();
  kept.set(id, { stamp, index });
  return index;
}
