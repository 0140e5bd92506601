import type { Archive } from '../../archive';
import { FormatError } from '../../bytes';
import {
  asText,
  HeldRecord,
  isTextual,
  rowBytes,
  RowTable,
  type FieldType,
  type ReadEvaluation,
  type RecordNode,
  type Value,
} from '../../script';
import { notEditable, type Edits } from './list-edits';
import type { ListPlace } from './list-places';

/**
 * Texts that records of a list make from their own fields and from the record before them, as names do that leave out what they share with that
 * one; by the numbers that the records have once others are gone.
 */
export interface BuiltTexts {
  readonly place: ListPlace;
  readonly texts: readonly { readonly at: number; readonly field: number; readonly text: string }[];
}

/** Texts of records whose predecessor goes. */
export function builtTexts(archive: Archive, place: ListPlace, isGone: (row: number) => boolean): BuiltTexts {
  const { items } = place;
  const first = items.at(0);
  const context = archive.context as ReadEvaluation;
  const texts: { at: number; field: number; text: string }[] = [];
  const built = isRecord(first) ? first.type.fields.filter(buildsOnTheOneBefore) : [];
  let left = 0;
  for (let row = 0; built.length > 0 && row < items.length; row++) {
    if (isGone(row)) continue;
    const node = items.at(row);
    if (row > 0 && isGone(row - 1) && isRecord(node) && node.type === (first as RecordNode).type)
      for (const { index } of built) {
        const value = context.field(node, index);
        if (isTextual(value)) texts.push({ at: left, field: index, text: asText(value) });
      }
    left++;
  }
  return { place, texts };
}

const isRecord = (value: Value): value is RecordNode =>
  typeof value === 'object' && 'sort' in value && value.sort === 'record';

const buildsOnTheOneBefore = ({ role }: FieldType): boolean =>
  role.sort === 'computed' && role.from.mentions.has('preceding');

/**
 * Has texts say what they said while another record, or none, comes before theirs: a text that the record carries becomes the whole, and a number
 * that it carries, which tells how much is shared, nothing. Throws FormatError where that does not come out right.
 */
export function keepTexts(archive: Archive, edits: Edits, { place, texts }: BuiltTexts): void {
  const context = archive.context as ReadEvaluation;
  for (const { at, field, text } of texts) {
    const says = (): string | undefined => {
      context.forget();
      try {
        const value = context.field(edits.now(place).items.at(at) as RecordNode, field);
        return isTextual(value) ? asText(value) : undefined;
      } catch (error) {
        if (error instanceof FormatError) return undefined;
        throw error;
      }
    };
    if (says() === text) continue;
    const { type } = edits.now(place).items.at(at) as RecordNode;
    const carried = type.fields.filter(({ role, repeat }) => role.sort === 'carried' && !repeat);
    const numbers = carried.filter(({ shape }) => shape.sort === 'scalar' || shape.sort === 'variable');
    const isKept = carried
      .filter(({ shape }) => shape.sort.endsWith('text'))
      .some((own) =>
        numbers.some((number) => {
          const undo = rewriteFields(edits, place, at, [
            [own.index, text],
            [number.index, 0],
          ]);
          if (says() === text) return true;
          undo();
          return false;
        }),
      );
    if (!isKept) throw notEditable(`${text} is written by what it shares with the one before it`);
  }
  context.forget();
}

/** Gives fields of a row other values; what comes back takes that back. */
export function rewriteFields(
  edits: Edits,
  place: ListPlace,
  at: number,
  values: readonly (readonly [field: number, value: Value])[],
): () => void {
  const { items } = edits.now(place);
  if (items instanceof RowTable) {
    const was = rowBytes(items, at, new Map());
    edits.rewriteRow(edits.now(place), at, rowBytes(items, at, new Map(values)));
    return () => void edits.rewriteRow(edits.now(place), at, was);
  }
  const node = items.at(at) as HeldRecord;
  const was = values.map(([field]) => node.values[field]);
  for (const [field, value] of values) node.values[field] = value;
  edits.stretch(node);
  return () => values.forEach(([field], i) => (node.values[field] = was[i]));
}
