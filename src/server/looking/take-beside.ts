import { FormatError } from '@/core/bytes';
import { tonguesIn } from '@/core/catalogue';
import { codeOfKind, fileStem } from '@/core/kinds';
import { spokenLine } from '@/media/sound/core/spoken-line';
import { decodeAnyText } from '@/media/text/core/encoding';
import {
  findEntry,
  gameCatalogue,
  recordOf,
  type EntryRecord,
  type GameCatalogue,
} from '../entries/catalogue';
import { tongueTakes, type TongueTakes } from '../entries/tongues';
import { openedEntry } from '../opening/opened';
import { wholeEntry } from './preview';
import { UserError } from '@/platform/user-error';

/** A line of a table of texts that is said in a sound, as the names tell. */
export interface SpokenLine {
  readonly text: string;
  readonly from: EntryRecord;
}

export interface TakeBeside extends TongueTakes {
  readonly lines: readonly SpokenLine[];
}

const TEXT = codeOfKind('text');
const MOST_TABLES = 40;
const MOST_TABLE_BYTES = 2 << 20;

/** What belongs to a take: what is said in it, where a table of texts is tied to it by names, and the same line in other languages. */
export async function takeBeside(gameId: number, archiveId: number, index: number): Promise<TakeBeside> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { row, entry: own } = await openedEntry(gameId, archiveId, index);
  // As it stands in the tree: what lies in an archive within another one, or in a film, has its place there.
  const entry = (await findEntry(gameId, archiveId, index)) ?? own;
  const tongues = await tongueTakes(gameId, row.path, entry.path);
  // What is said in its own language stands first; what other tables say as well is said once.
  const spoken = new Set(tonguesIn(entry.path));
  const tables = tablesFor(game, entry.path)
    .map((table) => recordOf(game, table))
    .map((from) => ({ from, isOwn: tonguesIn(from.path).some((tongue) => spoken.has(tongue)) }))
    .sort((a, b) => Number(b.isOwn) - Number(a.isOwn));
  const lines = new Map<string, SpokenLine>();
  for (const { from } of tables) {
    const text = await lineIn(gameId, from, entry.path);
    if (text !== undefined && !lines.has(text)) lines.set(text, { text, from });
  }
  return { ...tongues, lines: [...lines.values()] };
}

/** Tables of texts that are called as a folder of the sound is. */
function tablesFor({ catalogue, archives }: GameCatalogue, path: string): number[] {
  const steps = new Set(path.toLowerCase().split('/').slice(0, -1));
  const { kinds, sizes, archives: positions } = catalogue.columns;
  const found: number[] = [];
  for (let row = 0; steps.size > 0 && row < catalogue.count && found.length < MOST_TABLES; row++) {
    if (kinds[row] !== TEXT || sizes[row]! > MOST_TABLE_BYTES) continue;
    if (archives[positions[row]!]!.path === '') continue;
    const own = catalogue.path(row).toLowerCase();
    const stem = fileStem(own);
    if (steps.has(stem) && catalogue.at(row).wins) found.push(row);
  }
  return found;
}

async function lineIn(
  gameId: number,
  { archiveId, index, path }: EntryRecord,
  sound: string,
): Promise<string | undefined> {
  try {
    const table = decodeAnyText(wholeEntry(await openedEntry(gameId, archiveId, index)));
    return table && spokenLine(table.text, path, sound);
  } catch (error) {
    // A table that cannot be read says nothing of any sound; its own place says why.
    if (error instanceof FormatError || error instanceof UserError) return undefined;
    throw error;
  }
}
