import {
  HeldRecord,
  isItems,
  rowBytes,
  RowTable,
  type Items,
  type RecordNode,
  type Value,
} from '../../script';
import { rewriteFields } from './built-texts';
import { notEditable, type Edits } from './list-edits';
import type { ListPlace } from './list-places';
import type { RowValues } from './recode';

/** Something within the row of an entry that becomes another one, or a list within it that gets an item like another, or loses one. */
export type WithinEdit = {
  /** What leads there from the row: the number of a field, that of an item where the field is a list, then of a field again where what is there is a record. */
  readonly steps: readonly number[];
} & (
  | { readonly does: 'set'; readonly value: Value }
  /** One like item `like` of the list that will be the one at `at`. */
  | { readonly does: 'copy'; readonly like: number; readonly at: number }
  /** A value; or a record like one of another list of the same kind, where there is none yet. */
  | { readonly does: 'add'; readonly value: Value; readonly at: number }
  | { readonly does: 'remove'; readonly at: number }
);

/** A record that is written into. */
interface Holder {
  readonly node: RecordNode;
  put(values: RowValues): void;
}

const isRecordNode = (value: Value): value is RecordNode =>
  typeof value === 'object' && 'sort' in value && value.sort === 'record';

/** Writes into what lies within a record. Throws FormatError `not-writable` where nothing stands there. */
export function writeWithin(edits: Edits, holder: Holder, edit: WithinEdit): void {
  const [field, ...rest] = edit.steps;
  const { node } = holder;
  const type = field === undefined ? undefined : node.type.fields[field];
  if (field === undefined || !type) throw notEditable(`${node.path} has no such field`);
  const called = `${node.path}.${type.name}`;
  const held = withinRegion(node.get(field));
  const [step, ...more] = rest;
  if (step === undefined) {
    if (edit.does === 'set' && isItems(edit.value)) return putList(edits, holder, field, [...edit.value]);
    if (edit.does === 'set') return holder.put([[field, edit.value]]);
    if (!isItems(held)) throw notEditable(`${called} is no list`);
    return resize(edits, holder, field, held, edit);
  }
  if (isItems(held)) {
    if (step >= held.length) throw notEditable(`${called} has ${held.length} items`);
    const item = held.at(step)!;
    if (isRecordNode(item))
      return writeWithin(edits, itemHolder(edits, node, field, held, step), { ...edit, steps: more });
    if (more.length > 0 || edit.does !== 'set') throw notEditable(`${called} has no records`);
    return putList(edits, holder, field, [...held].toSpliced(step, 1, edit.value));
  }
  if (!isRecordNode(held)) throw notEditable(`${called} is no record`);
  return writeWithin(edits, heldHolder(edits, held), { ...edit, steps: rest });
}

function heldHolder(edits: Edits, node: RecordNode): Holder {
  return {
    node,
    put(values) {
      if (!(node instanceof HeldRecord)) throw notEditable(`${node.path} lies in a row of one length`);
      for (const [field, value] of values) node.values[field] = value;
      edits.stretch(node);
    },
  };
}

const placeOf = (node: RecordNode, field: number, items: Items): ListPlace => {
  if (!(node instanceof HeldRecord)) throw notEditable(`${node.path} lies in a row of one length`);
  return { items, owner: { record: node, field } };
};

function itemHolder(edits: Edits, node: RecordNode, field: number, items: Items, at: number): Holder {
  if (!(items instanceof RowTable)) return heldHolder(edits, items.at(at) as RecordNode);
  const place = placeOf(node, field, items);
  return { node: items.at(at)!, put: (values) => void rewriteFields(edits, place, at, values) };
}

/** What a stretch of bytes has within it; anything else is itself. */
const withinRegion = (value: Value): Value =>
  typeof value === 'object' && 'sort' in value && value.sort === 'region' ? value.content : value;

/** Gives a field another list, whose items are measured anew; a stretch of bytes with a list in it becomes as long as that. */
function putList(edits: Edits, { node, put }: Holder, field: number, list: readonly Value[]): void {
  edits.lists.add(list);
  const held = node.get(field);
  if (typeof held !== 'object' || !('sort' in held) || held.sort !== 'region') return put([[field, list]]);
  held.content = list;
  edits.regions.add(held);
  edits.stretch(node);
}

function resize(
  edits: Edits,
  holder: Holder,
  field: number,
  items: Items,
  edit: Exclude<WithinEdit, { readonly does: 'set' }>,
): void {
  const { at } = edit;
  const { node } = holder;
  const most = edit.does === 'remove' ? items.length - 1 : items.length;
  if (at > most || (edit.does === 'copy' && edit.like >= items.length))
    throw notEditable(`${node.path} has ${items.length} of them`);
  if (edit.does === 'add' && isRecordNode(edit.value))
    return edits.insertFirst(placeOf(node, field, items), edit.value);
  if (!(items instanceof RowTable) && !isRecordNode(items.at(0))) {
    const values = [...items];
    const value = edit.does === 'copy' ? items.at(edit.like) : edit.does === 'add' ? edit.value : undefined;
    const made = edit.does === 'remove' ? values.toSpliced(at, 1) : values.toSpliced(at, 0, value);
    return putList(edits, holder, field, made);
  }
  const place = placeOf(node, field, items);
  if (edit.does === 'remove') return edits.remove(place, new Set([at]));
  if (edit.does === 'add') throw notEditable('its items are records');
  if (items instanceof RowTable)
    edits.insertRows(place, [{ before: at, bytes: rowBytes(items, edit.like, new Map()), like: -1 }]);
  else edits.insertCopy(place, at, edit.like);
}
