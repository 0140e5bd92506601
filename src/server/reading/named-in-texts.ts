import { codeOfKind } from '@/core/kinds';
import { pathStrings } from '@/core/names';
import { saysTable, type KeyField } from '@/media/table/core/links';
import { textNode } from '@/media/text/node';
import { programsOf } from '../desk/held-texts';
import { recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { wholeEntry } from '../looking/preview';
import { openedEntry } from '../opening/opened';
import { entryNamer } from './named-entries';
import { madeTable, type NamedRows } from './named-rows';
import { breath } from './read-tables';
import type { GameLink, GameTable } from './reading';

/** The table of what programs and scripts say of rows and files. */
export const NAMED_IN_TEXTS = 'Programs and scripts that name';

const TEXT = codeOfKind(textNode.kind);
const MOST_TEXTS = 4000;
const MOST_TEXT_BYTES = 1 << 20;
/** All texts together. */
const MOST_BYTES = 32 << 20;
/** Programs are gone through up to so many bytes, all together. */
const MOST_PROGRAM_BYTES = 64 << 20;
const MOST_ROWS = 100_000;
const MOST_LINE = 2000;

/** A place in a text or a program where rows or files are named. */
interface Naming {
  readonly file: EntryRecord;
  readonly at: string;
  readonly text: string;
  readonly path: string | undefined;
  /** By the number of the key. */
  readonly rows: ReadonlyMap<number, readonly (number | string)[]>;
}

const WORDS = /[\p{L}\p{N}_./\\#-]{4,}/gu;
/** A number right behind a word, as `promise(2005)` or `scene: 610`. */
const SAID_NUMBERS = /([\p{L}_][\p{L}\p{N}_]*)\W{1,4}(\d{1,9})(?![\p{L}\p{N}_.])/gu;
/** What nobody writes who does not mean it: words with a number, a dot or the like in them. */
const isName = (word: string): boolean => /[\d_.#/\\-]|\p{Ll}\p{Lu}/u.test(word) && /\p{L}/u.test(word);

/**
 * Rows and files that the programs of a game and its texts which are no tables name: files by their paths, rows by keys that are no everyday words, or by a number behind a word that says their table.
 */
export async function namedInTexts(
  gameId: number,
  game: GameCatalogue,
  tables: readonly GameTable[],
  keys: readonly KeyField[],
): Promise<NamedRows | undefined> {
  const named = new Namer(game, tables, keys);
  const found: Naming[] = [];
  const own = new Set(tables.flatMap(({ files }) => files.map(({ path }) => path)));
  for (const file of textsOf(game, own)) {
    const bytes = await bytesOf(gameId, file);
    for (const [i, line] of (bytes ? new TextDecoder().decode(bytes).split('\n') : []).entries()) {
      const says = line.length <= MOST_LINE && named.in(line);
      if (says) found.push({ file, at: `line ${i + 1}`, text: line.trim(), ...says });
    }
    if (found.length > MOST_ROWS) break;
    await breath();
  }
  let room = MOST_PROGRAM_BYTES;
  for (const file of programsOf(game)) {
    if (file.size > room || own.has(file.path)) continue;
    room -= file.size;
    const bytes = await bytesOf(gameId, file);
    if (!bytes) continue;
    for (const text of new Set(pathStrings(bytes))) {
      const says = named.in(text);
      const place = Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length).indexOf(text, 0, 'latin1');
      if (says) found.push({ file, at: place < 0 ? 'wide letters' : `byte ${place}`, text, ...says });
    }
    await breath();
  }
  return found.length > 0 ? asRows(found.slice(0, MOST_ROWS), tables, keys) : undefined;
}

/** Texts that are no tables. */
function* textsOf(game: GameCatalogue, tables: ReadonlySet<string>): Generator<EntryRecord> {
  const { catalogue, archives } = game;
  const { kinds, sizes, archives: positions } = catalogue.columns;
  let [count, room] = [0, MOST_BYTES];
  for (let row = 0; row < catalogue.count && count < MOST_TEXTS; row++) {
    if (kinds[row] !== TEXT || sizes[row]! > MOST_TEXT_BYTES || catalogue.wins[row] === 0) continue;
    if (archives[positions[row]!]!.path === '' || tables.has(catalogue.path(row))) continue;
    if (sizes[row]! > room) continue;
    room -= sizes[row]!;
    count++;
    yield recordOf(game, row);
  }
}

/** What cannot be read names nothing; it is told where it is opened. */
async function bytesOf(gameId: number, { archiveId, index }: EntryRecord): Promise<Uint8Array | undefined> {
  try {
    return wholeEntry(await openedEntry(gameId, archiveId, index), MOST_PROGRAM_BYTES);
  } catch {
    return undefined;
  }
}

class Namer {
  private readonly path: (text: string) => number | undefined;
  /** Keys of text by what they are called, and keys of numbers by their tables. */
  private readonly words: readonly number[];
  private readonly numbers: readonly number[];

  constructor(
    private readonly game: GameCatalogue,
    private readonly tables: readonly GameTable[],
    private readonly keys: readonly KeyField[],
  ) {
    this.path = entryNamer(game);
    const sort = (key: KeyField): string => typeof key.rows.keys().next().value;
    const all = [...keys.keys()];
    this.words = all.filter((i) => sort(keys[i]!) === 'string');
    // What others go by is the first of a table's keys.
    this.numbers = all.filter(
      (i) => sort(keys[i]!) === 'number' && keys.findIndex(({ table }) => table === keys[i]!.table) === i,
    );
  }

  in(text: string): Pick<Naming, 'path' | 'rows'> | undefined {
    let path: string | undefined;
    const rows = new Map<number, (number | string)[]>();
    const note = (key: number, value: number | string): void => {
      const own = rows.get(key);
      if (own) own.push(value);
      else rows.set(key, [value]);
    };
    for (const [word] of text.matchAll(WORDS)) {
      const row = this.path(word);
      if (row !== undefined) path ??= this.game.catalogue.path(row);
      else if (isName(word)) for (const i of this.words) if (this.keys[i]!.rows.has(word)) note(i, word);
    }
    for (const [, word, digits] of text.matchAll(SAID_NUMBERS))
      for (const i of this.numbers) {
        const { table, rows: known } = this.keys[i]!;
        if (known.has(Number(digits)) && saysTable(word!, this.tables[table]!.id)) note(i, Number(digits));
      }
    return path === undefined && rows.size === 0 ? undefined : { path, rows };
  }
}

function asRows(
  found: readonly Naming[],
  tables: readonly GameTable[],
  keys: readonly KeyField[],
): NamedRows {
  const made = madeTable(
    NAMED_IN_TEXTS,
    found.map(({ file }) => file),
    {
      text: found.map(({ text }) => text),
      file: found.map(({ file }) => file.path),
      at: found.map(({ at }) => at),
      'names the file': found.map(({ path }) => path ?? ''),
    },
  );
  // What is only told of it names nothing itself.
  const fields = made.fields.filter(({ path }) => path === 'names the file');
  const links: GameLink[] = [];
  for (const number of new Set(found.flatMap(({ rows }) => [...rows.keys()]))) {
    const key = keys[number]!;
    const said = found.flatMap(({ rows }, row) =>
      (rows.get(number) ?? []).map((value) => [value, row] as const),
    );
    const of = (sort: 'number' | 'string') => said.filter(([value]) => typeof value === sort);
    links.push({
      ...{ from: tables.length, field: fields.length, to: key.table, by: key.field, source: 'found' },
      ...{ values: new Set(said.map(([value]) => value)).size, hits: said.length, chance: 0, isSure: true },
    });
    fields.push({
      path: `names of ${tables[key.table]!.id.replace(/^.*\//, '')}`,
      numbers: Float64Array.from(of('number'), ([value]) => Number(value)),
      numberRows: Uint32Array.from(of('number'), ([, row]) => row),
      texts: of('string').map(([value]) => String(value)),
      textRows: Uint32Array.from(of('string'), ([, row]) => row),
      filled: new Set(said.map(([, row]) => row)).size,
      isSingle: false,
    });
  }
  return { table: { ...made, fields }, key: undefined, links };
}
