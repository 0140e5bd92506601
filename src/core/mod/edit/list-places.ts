import type { Archive } from '../../archive';
import {
  flattened,
  HeldRecord,
  isItems,
  RowTable,
  type Compiled,
  type EntriesType,
  type Items,
  type PartType,
  type RecordNode,
  type Value,
} from '../../script';

/** Where a list stands: in a field of a record, or as a part of its own. */
export type ListOwner = { readonly record: HeldRecord; readonly field: number } | { readonly part: string };

export interface ListPlace {
  readonly items: Items;
  readonly owner: ListOwner;
}

/** The list that an owner has now. */
export function listOf(archive: Archive, owner: ListOwner): Items | undefined {
  const value = 'part' in owner ? archive.context.part(owner.part) : owner.record.get(owner.field);
  const held =
    typeof value === 'object' && 'sort' in value && value.sort === 'region' ? value.content : value;
  return isItems(held) ? held : undefined;
}

/** The list that a row stands in; undefined where it stands in none. */
export function listAround(archive: Archive, row: RecordNode): ListPlace | undefined {
  const { siblings, parent, fieldIndex } = row;
  if (!siblings) return undefined;
  if (parent instanceof HeldRecord) return { items: siblings, owner: { record: parent, field: fieldIndex } };
  const part = archive.script.parts.find(({ name }) => archive.context.part(name) === siblings);
  return part && { items: siblings, owner: { part: part.name } };
}

/** All lists that can be reached from the parts that an expression mentions, through fields that it mentions. */
export function listsMentioned(archive: Archive, { mentions }: Compiled): ListPlace[] {
  const found: ListPlace[] = [];
  const visit = (value: Value, owner: ListOwner): void => {
    if (typeof value !== 'object') return;
    if (isItems(value)) {
      found.push({ items: value, owner });
      // Records in a list of which one is asked for may hold lists in turn, but not those of a table.
      if (!(value instanceof RowTable) && value.length === 1) visit(value.at(0), owner);
    } else if (value instanceof HeldRecord) {
      for (const { name, index } of value.type.fields)
        if (mentions.has(name)) visit(value.get(index), { record: value, field: index });
    } else if ('sort' in value && value.sort === 'region') visit(value.content, owner);
  };
  for (const { name } of archive.script.parts)
    if (mentions.has(name)) visit(archive.context.part(name), { part: name });
  return found;
}

/** What a group of entries says of its rows in terms of other things. */
function expressionsOf(group: EntriesType): Compiled[] {
  const { path, hash, size, payload, where, modified } = group;
  const own =
    payload.sort === 'field'
      ? [payload.of]
      : payload.sort === 'placed'
        ? [payload.at, payload.size]
        : payload.sort === 'in order'
          ? [payload.size]
          : [];
  return [path, hash, size, where, modified, ...own].filter((one) => one !== undefined);
}

/**
 * Lists that have one item for each row of a list: records that are read for each of them, and what an expression asks for by the
 * number of the row.
 */
export function listsBeside(archive: Archive, group: EntriesType, rows: ListPlace): ListPlace[] {
  const found: ListPlace[] = [];
  const add = (place: ListPlace): void => {
    if (place.items === rows.items || place.items.length !== rows.items.length) return;
    if (!found.some(({ items }) => items === place.items)) found.push(place);
  };
  for (const { name, each } of archive.script.parts) {
    const list = archive.context.part(name);
    if (!each || !isItems(list)) continue;
    const source = flattened(each.run(archive.context, undefined), archive.context);
    if (source === rows.items || isSameRow(source.at(0), rows.items.at(0)))
      add({ items: list, owner: { part: name } });
  }
  for (const expression of expressionsOf(group))
    if (expression.mentions.has('position')) listsMentioned(archive, expression).forEach(add);
  return found;
}

/**
 * Other parts that have one item for each item of a list: those that are counted by the same words, and those with a field that follows from the item of its own number. A table of where the pieces of a
 * stream lie is one.
 */
export function partsAlong(archive: Archive, { items, owner }: ListPlace): ListPlace[] {
  if (!('part' in owner)) return [];
  const { parts, records } = archive.script;
  const countOf = (part: PartType): string | undefined =>
    part.repeat?.sort === 'count' ? part.repeat.count.text : undefined;
  const own = parts.find(({ name }) => name === owner.part)!;
  return parts.flatMap((part): ListPlace[] => {
    const list = archive.context.part(part.name);
    if (part === own || !isItems(list) || list.length !== items.length) return [];
    const isCounted = countOf(part) !== undefined && countOf(part) === countOf(own);
    const follows = records
      .get(part.record)
      ?.fields.some(
        ({ role }) =>
          role.sort === 'derived' && role.from.mentions.has(own.name) && role.from.mentions.has('position'),
      );
    return isCounted || follows ? [{ items: list, owner: { part: part.name } }] : [];
  });
}

function isSameRow(a: Value, b: Value): boolean {
  if (a === b) return a !== undefined;
  const [one, other] = [a, b] as [RecordNode | undefined, RecordNode | undefined];
  return one?.siblings !== undefined && one.siblings === other?.siblings && one.position === other?.position;
}
