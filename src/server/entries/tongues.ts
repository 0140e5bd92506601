import { TongueIndex, tongueName, type Catalogue } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import { MEDIA_NODE } from '@/media/node';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from './catalogue';

/** The same take in another language; that in no folder of a language has an empty one. */
export interface TongueTake {
  readonly tongue: string;
  readonly name: string;
  readonly entry: EntryRecord;
}

export interface TongueTakes {
  readonly takes: readonly TongueTake[];
  /** Languages that others beside it have, and it has not, by their names. */
  readonly missing: readonly string[];
}

const indexes = new WeakMap<Catalogue, { readonly stamp: string; readonly index: TongueIndex }>();
/** What is listened to may be spoken. */
const HEARD = new Set(MEDIA_NODE.filter(({ measure }) => measure).map(({ kind }) => codeOfKind(kind)));

const wholePath = (archive: string, entry: string): string =>
  archive === '.' ? entry : `${archive}/${entry}`;

/** All sounds of a game by their languages, worked out once for each state of its contents. */
function indexOf({ catalogue, archives, scan }: GameCatalogue): TongueIndex {
  const known = indexes.get(catalogue);
  if (known?.stamp === scan) return known.index;
  const { kinds, archives: positions } = catalogue.columns;
  function* paths(): Generator<readonly [number, string]> {
    for (let row = 0; row < catalogue.count; row++) {
      const archive = HEARD.has(kinds[row]!) ? archives[positions[row]!]!.path : '';
      if (archive !== '') yield [row, wholePath(archive, catalogue.path(row))];
    }
  }
  const index = new TongueIndex(paths());
  indexes.set(catalogue, { stamp: scan, index });
  return index;
}

/** The takes of the same line in all languages that the game has it in, and in which it has none. */
export async function tongueTakes(gameId: number, archive: string, entry: string): Promise<TongueTakes> {
  const game = await gameCatalogue(gameId);
  if (!game) return { takes: [], missing: [] };
  const { rows, missing } = indexOf(game).of(wholePath(archive, entry));
  const takes = [...rows].map(([tongue, row]): TongueTake => ({
    tongue,
    name: tongue === '' ? 'No language' : tongueName(tongue),
    entry: recordOf(game, row),
  }));
  return { takes: takes.sort((a, b) => a.name.localeCompare(b.name)), missing: missing.map(tongueName) };
}
