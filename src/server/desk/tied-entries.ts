import { tonguesIn, tongueName } from '@/core/catalogue';
import { codeOfKind } from '@/core/kinds';
import { keyOfLine, tailsOf } from '@/media/sound/core/spoken-line';
import { MEDIA_NODE } from '@/media/node';
import { pictureNode } from '@/media/picture/node';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';

/** A sound in which a line is said, or a picture that it belongs to, and in which language its path says that it is. */
export interface TiedEntry {
  readonly entry: EntryRecord;
  readonly tongue: string;
}

/** What is listened to may be spoken. */
const HEARD = new Set(MEDIA_NODE.filter(({ measure }) => measure).map(({ kind }) => codeOfKind(kind)));
const SEEN = codeOfKind(pictureNode.kind);

interface TiedRows {
  /** Sounds and pictures by what their paths end in, spelled as keys of lines are. */
  readonly heard: Map<string, number[]>;
  readonly seen: Map<string, number[]>;
  /** Pictures by the folder that they lie in. */
  readonly inFolder: Map<string, number[]>;
}
const indexes = new WeakMap<object, { readonly scan: string; readonly rows: TiedRows }>();

const note = (map: Map<string, number[]>, key: string, row: number): void => {
  const own = map.get(key);
  if (own) own.push(row);
  else map.set(key, [row]);
};

/** Worked out once a scan. */
function tiedRows({ catalogue, archives, scan }: GameCatalogue): TiedRows {
  const known = indexes.get(catalogue);
  if (known?.scan === scan) return known.rows;
  const rows: TiedRows = { heard: new Map(), seen: new Map(), inFolder: new Map() };
  const { kinds, archives: positions } = catalogue.columns;
  for (let row = 0; row < catalogue.count; row++) {
    const isSeen = kinds[row] === SEEN;
    if (!isSeen && !HEARD.has(kinds[row]!)) continue;
    if (catalogue.wins[row] === 0 || archives[positions[row]!]!.path === '') continue;
    const path = catalogue.path(row);
    for (const tail of tailsOf(path)) note(isSeen ? rows.seen : rows.heard, tail, row);
    const folder = isSeen && path.split('/').at(-2);
    if (folder) note(rows.inFolder, keyOfLine(folder), row);
  }
  indexes.set(catalogue, { scan, rows });
  return rows;
}

const MOST_SHOWN = 6;

/** Sounds that are tied to a line by its key, in the languages that are asked for first. */
export async function voicesOf(
  gameId: number,
  key: string,
  tongues: readonly string[],
): Promise<TiedEntry[]> {
  const game = await gameCatalogue(gameId);
  return game ? told(game, tiedRows(game).heard.get(keyOfLine(key)) ?? [], tongues) : [];
}

/** Pictures of a line: those whose paths end in its key; else those in a folder that is called as it begins, or as who says it. */
export async function picturesOf(
  gameId: number,
  key: string,
  speaker: string,
  tongues: readonly string[],
): Promise<TiedEntry[]> {
  const game = await gameCatalogue(gameId);
  if (!game) return [];
  const { seen, inFolder } = tiedRows(game);
  const own = seen.get(keyOfLine(key));
  if (own) return told(game, own, tongues);
  const words = keyOfLine(key).split('.');
  const who = keyOfLine(speaker).replace(/^(the|a|an)\./, '');
  // Some of each: a face, and the place.
  const about = [
    inFolder.get(who) ?? inFolder.get(who.split('.')[0]!) ?? [],
    words.length > 1 ? (inFolder.get(words[0]!) ?? []) : [],
  ];
  return about.flatMap((rows) => told(game, rows, tongues).slice(0, MOST_SHOWN / 2));
}

function told(game: GameCatalogue, rows: readonly number[], tongues: readonly string[]): TiedEntry[] {
  const found = rows.slice(0, 40).map((row) => {
    const entry = recordOf(game, row);
    const own = tonguesIn(`${entry.archive}/${entry.path}`);
    return { entry, code: tongues.find((one) => own.includes(one)) ?? own[0] ?? '' };
  });
  const rank = (code: string): number => (tongues.includes(code) ? tongues.indexOf(code) : tongues.length);
  return found
    .sort((a, b) => rank(a.code) - rank(b.code))
    .slice(0, MOST_SHOWN)
    .map(({ entry, code }) => ({ entry, tongue: code === '' ? '' : tongueName(code) }));
}
