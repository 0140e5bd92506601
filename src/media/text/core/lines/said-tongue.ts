import type { Archive, Entry } from '@/core/archive';
import { spelledAs, tongueIn, tongueName } from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import { listsMentioned, type ListPlace, type RowValues } from '@/core/mod';
import {
  asText,
  HeldRecord,
  isTextual,
  rowBytes,
  tableOf,
  TableRow,
  type Compiled,
  type FieldType,
  type ReadEvaluation,
  type RecordNode,
  type RecordType,
  type Script,
  type Value,
} from '@/core/script';

/** So many numbers are tried as one that stands for a language. */
const MOST_NUMBERS = 64;

/** Where a table says the language of a text: in a field of its row (0), of a record that it lies in (1 and on), or of a record for the whole file. */
export interface SaidTongue {
  readonly level: number | 'file';
  readonly node: RecordNode;
  readonly values: RowValues;
}

/** The records that may say something of a row: itself, those that it lies in, and those of parts that are no lists. */
function* recordsAround(archive: Archive, row: RecordNode): Generator<Omit<SaidTongue, 'values'>> {
  let level = 0;
  for (let node: RecordNode | undefined = row; node; node = node.parent) yield { level: level++, node };
  for (const { name } of archive.script.parts) {
    const part = archive.context.part(name);
    if (part instanceof HeldRecord) yield { level: 'file', node: part };
  }
}

/** All names that an expression goes by, with those of fields that are worked out from others. */
export function namesBehind(script: Script, of: Compiled): ReadonlySet<string> {
  const all = new Set(of.mentions);
  for (;;) {
    const before = all.size;
    for (const { fields } of script.records.values())
      for (const { name, role } of fields)
        if (all.has(name) && role.sort === 'computed') for (const one of role.from.mentions) all.add(one);
    if (all.size === before) return all;
  }
}

const NUMBERS: ReadonlySet<string> = new Set(['scalar', 'bits', 'variable']);

/** A field that carries one number or one text. */
const isPlain = ({ role, repeat, shape }: FieldType): boolean =>
  role.sort === 'carried' &&
  !repeat &&
  (NUMBERS.has(shape.sort) || shape.sort === 'text' || shape.sort === 'ended text');

/**
 * What a record would have to say so that an expression of languages gives a wanted one for a row; undefined where no single field of it brings that about. `others` are values that
 * stand for languages elsewhere, such as the number of one that a list has just got.
 */
export function tongueSaid(
  archive: Archive,
  language: Compiled,
  { row }: Entry,
  isWanted: (said: string) => boolean,
  spell: (text: string) => string,
  others: readonly Value[] = [],
): SaidTongue | undefined {
  const names = namesBehind(archive.script, language);
  for (const { level, node } of recordsAround(archive, row))
    for (const field of node.type.fields) {
      if (!names.has(field.name) || !isPlain(field)) continue;
      const was = node.get(field.index);
      for (const value of candidates(field, was, spell, others)) {
        const said = saidWith(archive, language, row, node, field.index, value);
        if (said !== undefined && isWanted(said)) return { level, node, values: [[field.index, value]] };
      }
    }
  return undefined;
}

function candidates(
  { choices, shape }: FieldType,
  was: Value,
  spell: (text: string) => string,
  others: readonly Value[],
): Value[] {
  if (was === undefined) return [];
  if (isTextual(was)) {
    const spelled = spell(asText(was));
    return [spelled, ...others.filter((one) => typeof one === 'string')];
  }
  if (!NUMBERS.has(shape.sort)) return [];
  const numbers = others.filter((one) => typeof one === 'number');
  if (choices) return [...numbers, ...choices.values()];
  return [...numbers, ...Array.from({ length: MOST_NUMBERS }, (_, i) => i)];
}

/** What is said of a row while a field of it, or of a record around it, has another value; undefined where that makes no sense. */
function saidWith(
  archive: Archive,
  language: Compiled,
  row: RecordNode,
  node: RecordNode,
  field: number,
  value: Value,
): string | undefined {
  const context = archive.context as ReadEvaluation;
  const saidOf = (one: RecordNode): string | undefined => {
    context.forget();
    try {
      return asText(language.run(context, one));
    } catch (error) {
      if (error instanceof FormatError) return undefined;
      throw error;
    }
  };
  if (node instanceof TableRow) {
    if (node !== row) return undefined;
    try {
      const bytes = rowBytes(node.table, node.position, new Map([[field, value]]));
      return saidOf(tableOf(node.table, [bytes]).at(0)!);
    } catch (error) {
      if (error instanceof FormatError) return undefined;
      throw error;
    }
  }
  const { values } = node as HeldRecord;
  const was = values[field];
  values[field] = value;
  const said = saidOf(row);
  values[field] = was;
  context.forget();
  return said;
}

/** What a list of languages gets so that it has a further one: an item like another, or a text. */
export interface ListGrowth {
  readonly place: ListPlace;
  readonly like: number;
  readonly values: RowValues;
  readonly text?: string | undefined;
  /** Numbers that stand for the new one: those that tell its item from others. */
  readonly numbers: readonly number[];
}

/** Lists that an expression of languages goes by and that have an item for each: what each of them would get for a further one. */
export function listGrowths(
  archive: Archive,
  language: Compiled,
  row: RecordNode,
  wanted: string,
): ListGrowth[] {
  const names = namesBehind(archive.script, language);
  const found = listsMentioned(archive, { ...language, mentions: names });
  for (let node: RecordNode | undefined = row.parent; node; node = node.parent)
    if (node instanceof HeldRecord)
      for (const { name, index } of node.type.fields) {
        const items = node.get(index);
        if (names.has(name) && Array.isArray(items))
          found.push({ items, owner: { record: node, field: index } });
      }
  return found.flatMap((place) => growthOf(place, wanted, names) ?? []);
}

function growthOf(place: ListPlace, wanted: string, names: ReadonlySet<string>): ListGrowth | undefined {
  const items = [...place.items];
  if (items.length === 0) return undefined;
  const like = items.length - 1;
  if (items.every(isTextual)) {
    const texts = items.map(asText);
    if (texts.some((text) => tongueIn(text) === undefined)) return undefined;
    return { place, like, values: [], text: spelledAs(texts[like]!, wanted), numbers: [] };
  }
  const nodes = items as RecordNode[];
  const fields = (nodes[0]!.type as RecordType | undefined)?.fields.filter(isPlain) ?? [];
  const columns = fields.map(({ index }) => ({ index, all: nodes.map((node) => node.get(index)) }));
  const texts = columns.flatMap(({ index, all }) =>
    all.every((one) => one !== undefined && isTextual(one)) ? [{ index, texts: all.map(asText) }] : [],
  );
  const isOfCodes = ({ texts: own }: { texts: string[] }): boolean =>
    own.every((one) => tongueIn(one) !== undefined);
  const codes = texts.find(isOfCodes)?.texts.map((one) => tongueIn(one)!);
  if (!codes) return undefined;
  const values: [number, Value][] = texts.flatMap((one): [number, Value][] => {
    if (isOfCodes(one)) return [[one.index, spelledAs(one.texts[like]!, wanted)]];
    // What players read in the list of languages.
    const isOfNames = one.texts.some((text, i) => text.toLowerCase() === ownName(codes[i]!)?.toLowerCase());
    return isOfNames ? [[one.index, ownName(wanted) ?? tongueName(wanted)]] : [];
  });
  const numbers: number[] = [];
  // Of one item alone a number tells it from others only where languages are said by it.
  const tellsApart = (index: number): boolean =>
    nodes.length > 1 || names.has(nodes[0]!.type.fields[index]!.name);
  for (const { index, all } of columns)
    if (
      all.every((one) => typeof one === 'number') &&
      new Set(all).size === all.length &&
      tellsApart(index)
    ) {
      const next = Math.max(...(all as number[])) + 1;
      values.push([index, next]);
      numbers.push(next);
    }
  return { place, like, values, numbers };
}

/** What a language is called in itself (Unicode CLDR, as the engine has it). */
function ownName(tongue: string): string | undefined {
  const name = new Intl.DisplayNames([tongue], { type: 'language', fallback: 'none' }).of(tongue);
  return name && name[0]!.toLocaleUpperCase(tongue) + name.slice(1);
}
