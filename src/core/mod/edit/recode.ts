import type { Archive, Entry } from '../../archive';
import { FormatError } from '../../bytes';
import { HeldRecord, RowTable, sameValue, type Items, type RecordNode, type Value } from '../../script';
import { rewriteFields } from './built-texts';
import { notEditable, type Edits } from './list-edits';
import type { ListPlace } from './list-places';

/** A codec that the row of an entry can say, by the word that the script has for it. */
export interface RowCodec {
  readonly word: string;
  readonly field: number;
  readonly value: Value;
  readonly isOwn: boolean;
}

/**
 * The codecs that a format has words for, where the row of a sound carries the one that it is kept in: a field with an enum that the codec of
 * the section of sounds follows from. Empty where its script does not say so.
 */
export function codecsOf({ group, row }: Entry): RowCodec[] {
  const { sound, payload } = group;
  if (!sound || payload.sort === 'pieces') return [];
  const field = row.type.fields.find(
    ({ name, role, repeat, condition, choices }) =>
      role.sort === 'carried' && !repeat && !condition && choices && sound.codec.mentions.has(name),
  );
  if (!field) return [];
  const own = row.get(field.index);
  return [...field.choices!].map(([word, value]) => ({
    ...{ word, value, field: field.index },
    isOwn: own !== undefined && sameValue(own, value),
  }));
}

/** Fields of its row that say in which form a sound is, beside its codec: what plays one form may refuse the rate of another. */
function formFields({ group, row }: Entry, codec: number): number[] {
  const { rate, channels, bits, isSigned, block, heads, highFirst, turn, first, demuxer, decoder } =
    group.sound!;
  const said = [rate, channels, bits, isSigned, block, heads, highFirst, turn, first, demuxer, decoder];
  return row.type.fields
    .filter(
      ({ name, index, role, shape, repeat, condition }) =>
        index !== codec &&
        role.sort === 'carried' &&
        shape.sort === 'scalar' &&
        !repeat &&
        !condition &&
        said.some((one) => one?.mentions.has(name)),
    )
    .map(({ index }) => index);
}

/** An entry that is kept in a codec already: one of the same form otherwise, else one of the same group, else any. What is made new in that codec is made like it. */
export function likeOf(archive: Archive, entry: Entry, { field, value }: RowCodec): Entry | undefined {
  const form = formFields(entry, field).map((index) => [index, entry.row.get(index)] as const);
  const ranked: (Entry | undefined)[] = [undefined, undefined];
  for (const other of archive.entries) {
    if (other.row.type !== entry.row.type || other.problem || !other.group.sound) continue;
    if (!isSame(other.row.get(field), value)) continue;
    const isOfGroup = other.group === entry.group;
    if (isOfGroup && form.every(([index, own]) => isSame(other.row.get(index), own))) return other;
    ranked[isOfGroup ? 0 : 1] ??= other;
  }
  return ranked[0] ?? ranked[1];
}

const isSame = (a: Value, b: Value): boolean =>
  a === undefined || b === undefined ? a === b : sameValue(a, b);

/** The codecs that an entry may be kept in instead: those of which the archive has one that works. */
export const otherCodecs = (archive: Archive, entry: Entry): string[] =>
  codecsOf(entry)
    .filter((codec) => !codec.isOwn && likeOf(archive, entry, codec))
    .map(({ word }) => word);

/** Values of fields of a row. */
export type RowValues = readonly (readonly [field: number, value: Value])[];

/** What the row of an entry has to say so that the entry is kept in another codec. Throws FormatError where it cannot. */
export function recodedRow(archive: Archive, entry: Entry, word: string): RowValues {
  const known = codecsOf(entry);
  const codec = known.find((one) => one.word === word);
  const like = codec && likeOf(archive, entry, codec);
  if (!codec || !like)
    throw new FormatError('not-writable', {
      fieldPath: entry.path,
      expected: codec
        ? 'a codec that the archive has something in'
        : known.map((one) => one.word).join(', ') || 'a codec that its row says',
      actual: word,
      remedy: 'Leave it in the codec that it has',
    });
  return [
    [codec.field, codec.value],
    ...formFields(entry, codec.field).map((index) => [index, like.row.get(index)] as const),
  ];
}

/** Has the row of an entry say something else, while its archive is edited. */
export function writeRow(edits: Edits, entry: Entry, place: ListPlace | undefined, values: RowValues): void {
  const { row } = entry;
  if (place) rewriteFields(edits, place, positionOf(edits, edits.now(place).items, entry), values);
  else if (row instanceof HeldRecord) {
    for (const [field, value] of values) row.values[field] = value;
    edits.stretch(row);
  } else throw notEditable(`${row.path} stands in no list`);
}

/** The row of an entry as it stands by now, and how it is written into. */
export function rowHolder(edits: Edits, entry: Entry, place: ListPlace | undefined) {
  const items = place && edits.now(place).items;
  const node = items ? (items.at(positionOf(edits, items, entry)) as RecordNode) : entry.row;
  return { node, put: (values: RowValues): void => writeRow(edits, entry, place, values) };
}

/** Where the row of an entry stands by now. */
function positionOf(edits: Edits, items: Items, { row, index }: Entry): number {
  if (!(items instanceof RowTable)) return row.position;
  const isIt = (at: number): boolean => {
    const origin = at < items.length ? edits.originOf(items.at(at) as RecordNode) : undefined;
    return origin?.entry === index && !origin.isFresh;
  };
  if (isIt(row.position)) return row.position;
  for (let at = 0; at < items.length; at++) if (isIt(at)) return at;
  throw notEditable(`${row.path} is gone`);
}
