import type { Archive, Entry } from '../../archive';
import { FormatError, withFacts } from '../../bytes';
import { asCount, asText, HeldRecord, isTextual, RowTable, type Items, type Value } from '../../script';
import type { StreamPiece } from '../../streams';
import { refuseBroken } from '../plan';
import { builtTexts, keepTexts } from './built-texts';
import type { EditMarks } from './edit-marks';
import { Edits, notEditable, rereadOrigins, type Origin } from './list-edits';
import { listsMentioned, type ListPlace } from './list-places';
import { recodedRow, rowHolder, writeRow } from './recode';
import { repiece } from './repiece';
import { addRow, hashFor, type NewRow, type WaitingRow } from './new-row';
import { RowPlaces } from './row-places';
import { writeWithin, type WithinEdit } from './write-within';

export interface AddedEntry {
  readonly path: string;
  /** Number of the entry that it is stored like; the likeliest one where nothing is said. */
  readonly like?: number | undefined;
}

export interface EntryEdits {
  readonly added?: readonly AddedEntry[];
  /** Numbers of entries that are taken out. */
  readonly removed?: ReadonlySet<number>;
  /** Pieces into which new content of entries falls, by their numbers, as `newPieces` tells them. */
  readonly pieces?: ReadonlyMap<number, readonly StreamPiece[]>;
  /** Codecs that entries are kept in instead of their own, by their numbers; in the words of the script. */
  readonly recoded?: ReadonlyMap<number, string>;
  /** What becomes something else in rows of entries, or within them, by the numbers of the entries; one after the other. What follows from it is worked out anew. */
  readonly within?: ReadonlyMap<number, readonly WithinEdit[]>;
  /** What the field that the script says archives are loaded by becomes. */
  readonly rank?: number | undefined;
  /** Whether others may be called otherwise then, as rows of a table that are called by their numbers. */
  readonly mayRename?: boolean;
}

export interface EditedArchive {
  readonly archive: Archive;
  readonly marks: EditMarks;
  /** The number that each entry has now, by the one it had; -1 for one that is gone. */
  readonly newNumbers: Int32Array;
  /** Numbers of those added, in the order in which they were given. */
  readonly added: readonly number[];
}

/** So many entries are tried as what a new one is stored like. */
const MOST_TRIED = 40;

/**
 * Adds entries to an archive that was opened for this alone, and takes some out; it is changed in memory, and `planArchive` with
 * `marks` writes it. A new entry is stored like another one (its flags, codec and whatever else its row carries), under its own
 * name, and has the bytes of that one until a change gives it others. Throws FormatError where the script does not tell how a
 * name is written, or where other entries would change by it.
 */
export function editEntries(archive: Archive, wanted: EntryEdits): EditedArchive {
  refuseBroken(archive);
  const { entries } = archive;
  const removed = wanted.removed ?? new Set<number>();
  const added = wanted.added ?? [];
  refuseKnown(archive, added, removed);
  const before = entries.map(keyOf);
  const edits = new Edits(archive);
  const places = new RowPlaces(archive);
  // Before anything moves.
  const gone = goneRows(entries, removed, places);
  const recoded = [...(wanted.recoded ?? [])].map(([number, word]) => {
    const entry = entries[number]!;
    const place = entry.row.siblings && places.of(entry).rows;
    return { entry, place, values: recodedRow(archive, entry, word) };
  });
  const inner = [...(wanted.within ?? [])].map(([number, own]) => {
    const entry = entries[number]!;
    return { entry, place: entry.row.siblings && places.of(entry).rows, own };
  });
  const built = gone.map(({ place, records, numbers }) => {
    const own = new Set(numbers);
    for (const { position } of records) own.add(position);
    return builtTexts(archive, place, (row) => own.has(row));
  });
  const names = nameEdits(archive, added, removed);
  const payloads = payloadsOf(entries, removed);
  const rows = added.map((one) => addOne(archive, edits, places, one));
  for (const row of rows) if (typeof row === 'function') row();
  putIn(
    edits,
    gone,
    rows.filter((row) => typeof row === 'object'),
  );
  // New rows stand behind all others, unless the script asks for an order.
  const isInPlace = added.length === 0 || archive.script.entries.every(({ sorted }) => !sorted);
  if (isInPlace) for (const texts of built) keepTexts(archive, edits, texts);
  for (const name of names) name(edits);
  if (wanted.pieces) repiece(archive, edits, wanted.pieces);
  for (const { entry, place, values } of recoded) writeRow(edits, entry, place, values);
  for (const { entry, place, own } of inner)
    for (const edit of own) writeWithin(edits, rowHolder(edits, entry, place), edit);
  if (wanted.rank !== undefined) setRank(archive, edits, wanted.rank);
  const origins = rereadOrigins(archive, edits);
  const { newNumbers, fresh } = matched(archive, origins, before, wanted);
  for (const number of fresh) edits.added.add(number);
  for (const [index, pieces] of wanted.pieces ?? [])
    edits.cuts.set(
      newNumbers[index]!,
      pieces.map(({ length }) => length),
    );
  const isLeft = new Set<string>();
  if (payloads.length > 0)
    for (const entry of archive.entries) if (!edits.added.has(entry.index)) isLeft.add(rangeKey(entry));
  for (const { key, ...range } of payloads) if (!isLeft.has(key)) edits.dropped.push(range);
  return { archive, marks: edits, newNumbers, added: fresh };
}

/** What tells an entry apart whatever its number is; empty where nothing does. */
function keyOf({ hash, path, named, problem }: Entry): string {
  if (hash !== undefined) return `#${hash}`;
  return named && !problem ? path : '';
}

function refuseKnown(archive: Archive, added: readonly AddedEntry[], removed: ReadonlySet<number>): void {
  if (added.length === 0) return;
  const fold = archive.script.entries.some(({ hashing }) => hashing && hashing.spelling !== 'kept');
  const spelled = (path: string): string => (fold ? path.toLowerCase() : path);
  const taken = new Set<string>();
  for (const entry of archive.entries)
    if (!removed.has(entry.index)) taken.add(spelled(entry.path)).add(`#${entry.hash}`);
  for (const { path } of added) {
    const hashes = archive.script.entries.map((group) => `#${hashFor(archive, group, path)}`);
    const isTaken = [spelled(path), ...hashes.filter((one) => one !== '#undefined')].find((one) =>
      taken.has(one),
    );
    if (isTaken !== undefined)
      throw new FormatError('bad-value', {
        fieldPath: path,
        expected: 'a path that the archive does not have yet',
        actual: isTaken.startsWith('#') ? `an entry whose name has the same hash, ${isTaken}` : isTaken,
        remedy: 'Replace that entry instead',
      });
    taken.add(spelled(path));
    for (const one of hashes) if (one !== '#undefined') taken.add(one);
  }
}

interface Gone {
  readonly place: ListPlace;
  /** Records by themselves, since others that are put in may move them; rows of tables by their number. */
  readonly records: Set<HeldRecord>;
  readonly numbers: Set<number>;
}

function goneRows(entries: readonly Entry[], removed: ReadonlySet<number>, places: RowPlaces): Gone[] {
  const all = new Map<Items, Gone>();
  for (const number of removed) {
    const entry = entries[number];
    if (!entry)
      throw new FormatError('bad-value', {
        expected: `an entry below ${entries.length}`,
        actual: `${number}`,
      });
    const { rows, beside } = places.of(entry);
    for (const place of [rows, ...beside]) {
      let one = all.get(place.items);
      if (!one) all.set(place.items, (one = { place, records: new Set(), numbers: new Set() }));
      const node = place.items.at(entry.row.position);
      if (node instanceof HeldRecord) one.records.add(node);
      else one.numbers.add(entry.row.position);
    }
  }
  return [...all.values()];
}

/** Takes rows out and puts those in that wait, each table at once. */
function putIn(edits: Edits, gone: readonly Gone[], waiting: readonly WaitingRow[]): void {
  const tables = new Map<Items, WaitingRow[]>();
  for (const row of waiting) tables.set(row.rows.items, [...(tables.get(row.rows.items) ?? []), row]);
  for (const { place, records, numbers } of gone) {
    const now = edits.now(place);
    const own = new Set(numbers);
    for (const node of records) own.add(node.position);
    edits.remove(now, own);
    const sorted = [...own].sort((a, b) => a - b);
    const rows = tables.get(place.items);
    if (!rows) continue;
    tables.delete(place.items);
    const moved = rows.map(({ before, bytes, like }) => ({
      bytes,
      like,
      before: before - sorted.filter((number) => number < before).length,
    }));
    edits.insertRows(edits.now(place), moved);
  }
  for (const rows of tables.values()) edits.insertRows(edits.now(rows[0]!.rows), rows);
}

/** Tries the entries that a new one may be stored like, the likeliest first. */
function addOne(archive: Archive, edits: Edits, places: RowPlaces, { path, like }: AddedEntry): NewRow {
  const { entries } = archive;
  if (like !== undefined && !entries[like])
    throw new FormatError('bad-value', { expected: `an entry below ${entries.length}`, actual: `${like}` });
  const models = like === undefined ? likeliest(entries, path) : [entries[like]!];
  let first: unknown;
  for (const model of models)
    try {
      return withFacts({ fieldPath: path }, () => addRow(archive, edits, places.of(model), path));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      first ??= error;
    }
  throw first ?? notEditable('it has no entry that a new one could be stored like');
}

const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);
const endingOf = (path: string): string => /\.[^./]*$/.exec(path)?.[0].toLowerCase() ?? '';

/** Entries that one of a path may be stored like: those of its folder and ending first, of these the last. */
export function likeliest(entries: readonly Entry[], path: string): Entry[] {
  const [folder, ending] = [folderOf(path), endingOf(path)];
  const ranked: Entry[][] = [[], [], [], []];
  for (let i = entries.length - 1; i >= 0; i--) {
    const entry = entries[i]!;
    if (entry.problem) continue;
    const other = entry.path;
    const rank = 2 * Number(endingOf(other) !== ending) + Number(folderOf(other) !== folder);
    const own = ranked[rank]!;
    if (own.length < MOST_TRIED) own.push(entry);
    // The first ones as well, which need not build on others before them.
    else if (i < 4) own.splice(MOST_TRIED / 2, 0, entry);
  }
  return ranked.flat().slice(0, 2 * MOST_TRIED);
}

/** What has to be done to the lists of names that archives of hashes keep. */
function nameEdits(
  archive: Archive,
  added: readonly AddedEntry[],
  removed: ReadonlySet<number>,
): ((edits: Edits) => void)[] {
  return archive.script.entries.flatMap((group) => {
    if (!group.names || !group.hashing) return [];
    const place = listsMentioned(archive, group.names).find(
      ({ items }) => textField(items, group) !== undefined,
    );
    if (!place) return [];
    const field = textField(place.items, group)!;
    const goneHashes = new Set([...removed].map((number) => archive.entries[number]!.hash));
    return [
      (edits: Edits) => {
        const { items } = edits.now(place);
        const numbers = new Set<number>();
        for (let i = 0; i < items.length && goneHashes.size > 0; i++)
          if (goneHashes.has(hashFor(archive, group, textAt(items.at(i), field)))) numbers.add(i);
        for (const { path } of added) addName(edits, edits.now(place), path, field);
        if (numbers.size > 0) edits.remove(edits.now(place), numbers);
      },
    ];
  });
}

/** The field of a list of records that the names are in; -1 for a list of texts, undefined where it has none. */
function textField(
  items: Items,
  { names }: { names: { mentions: ReadonlySet<string> } | undefined },
): number | undefined {
  const first = items.at(0);
  if (first === undefined) return undefined;
  if (isTextual(first)) return -1;
  if (typeof first !== 'object' || !('sort' in first) || first.sort !== 'record') return undefined;
  const field = first.type.fields.find(
    ({ name, index }) => names?.mentions.has(name) && isTextual(first.get(index)),
  );
  return field?.index;
}

function textAt(value: Value, field: number): string {
  return asText(field < 0 ? value : (value as HeldRecord).get(field));
}

function addName(edits: Edits, place: ListPlace, path: string, field: number): void {
  if (field < 0) return edits.insertText(place, path);
  if (place.items instanceof RowTable) throw notEditable('its names stand in a table');
  const copy = edits.insertCopy(place, place.items.length, place.items.length - 1);
  copy.values[field] = path;
  edits.stretch(copy);
}

const rangeKey = ({ file, offset, storedSize }: Entry): string => `${file} ${offset}+${storedSize}`;

/** Stretches that the payloads of entries take up, with their padding. */
function payloadsOf(
  entries: readonly Entry[],
  removed: ReadonlySet<number>,
): { key: string; file: number; from: number; to: number }[] {
  return [...removed].flatMap((number) => {
    const entry = entries[number]!;
    if (entry.holder || entry.storedSize === 0) return [];
    const { align } = entry.group;
    const end = entry.offset + entry.storedSize;
    // A rule that asks for its row may no longer be answered later.
    const unit =
      align?.linear && align.linear.name === undefined ? Math.max(1, asCount(align.linear.plus)) : 1;
    return [{ key: rangeKey(entry), file: entry.file, from: entry.offset, to: Math.ceil(end / unit) * unit }];
  });
}

function setRank(archive: Archive, edits: Edits, rank: number): void {
  const { loadsBy } = archive.script;
  const record = loadsBy && archive.context.part(loadsBy.part);
  if (!loadsBy || !(record instanceof HeldRecord)) return;
  record.values[record.type.byName.get(loadsBy.field)!] = rank;
  edits.stretch(record);
}

/** The name of one in another codec may be another one's already. */
function refuseTaken({ entries }: Archive): void {
  const seen = new Set<string>();
  for (const entry of entries) {
    const key = keyOf(entry);
    if (key !== '' && seen.has(key))
      throw new FormatError('bad-value', {
        ...{ fieldPath: entry.path, expected: 'one entry of this name', actual: 'two' },
        why: 'in the other codec it would be called like one that is there already',
        remedy: 'Take that one out first, or leave the codec as it is',
      });
    seen.add(key);
  }
}

/** Finds the added ones among the entries, and makes sure that all others are called what they were. */
function matched(
  archive: Archive,
  origins: readonly Origin[],
  before: readonly string[],
  { added = [], removed, recoded, within, mayRename = false }: EntryEdits,
): { newNumbers: Int32Array; fresh: number[] } {
  const known = new Map(
    added.flatMap(({ path }, i) => [
      [path, i] as const,
      ...archive.script.entries.map((group) => [`#${hashFor(archive, group, path)}`, i] as const),
    ]),
  );
  const newNumbers = new Int32Array(before.length).fill(-1);
  const fresh = new Array<number>(added.length).fill(-1);
  for (const entry of archive.entries) {
    const key = keyOf(entry);
    const { entry: origin, isFresh } = origins[entry.index]!;
    if (isFresh) {
      const own = known.get(key);
      if (own === undefined) throw notEditable(`a new entry comes out as ${key || entry.path}`);
      fresh[own] = entry.index;
      continue;
    }
    // The ending of a name may follow from the codec.
    if (before[origin] !== key && !mayRename && ![recoded, within].some((own) => own?.has(origin)))
      throw new FormatError('bad-value', {
        fieldPath: entry.row.path,
        expected: before[origin],
        actual: key || entry.path,
        why: 'taking out or adding entries would change what others are called',
        remedy: 'Replace entries instead; the script ties their names together',
      });
    newNumbers[origin] = entry.index;
  }
  if (recoded) refuseTaken(archive);
  if (newNumbers.some((number, old) => number < 0 && !removed?.has(old)))
    throw notEditable('other entries would be lost');
  const missing = fresh.indexOf(-1);
  if (missing >= 0) throw notEditable(`${added[missing]!.path} does not come out as an entry`);
  return { newNumbers, fresh };
}
