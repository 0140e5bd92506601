import { FormatError } from '../bytes';
import type { Evaluation } from './evaluation';
import type { Expression } from './expression';
import type { Items } from './items';
import type { RecordNode } from './model';
import { asText, bare, isTextual, type Value } from './values';

/** Shorter lists are gone through sooner than an index of them is made. */
const LEAST_INDEXED = 64;

/** That a condition asks for something of an item to be what somebody else says: `id == outer.item`. */
export interface Join {
  /** What is asked of each item. */
  readonly item: Expression;
  /** What it has to be, in terms of who asks. */
  readonly wanted: Expression;
}

/**
 * The part of a condition by which items can be found without going through all of them: an equation that has to hold, of which one side hangs on the item alone and the other not at all. Undefined where
 * there is none.
 */
export function joinIn(
  condition: Expression,
  /** Whether a name means the same whatever item is asked. */
  isFixed: (name: string) => boolean,
  /** Whether a function follows from its arguments alone. */
  isPlain: (name: string) => boolean,
): Join | undefined {
  if (condition.kind !== 'binary') return undefined;
  const { operator, left, right } = condition;
  if (operator === 'and') return joinIn(left, isFixed, isPlain) ?? joinIn(right, isFixed, isPlain);
  if (operator !== '==') return undefined;
  const ofAsker = (one: Expression): boolean =>
    everyName(one, (name) => name === 'outer' || isFixed(name), isPlain);
  const ofItem = (one: Expression): boolean => everyName(one, (name) => name !== 'outer', isPlain);
  if (ofItem(left) && ofAsker(right) && !ofAsker(left)) return { item: left, wanted: right };
  return ofItem(right) && ofAsker(left) && !ofAsker(right) ? { item: right, wanted: left } : undefined;
}

function everyName(
  one: Expression,
  holds: (name: string) => boolean,
  isPlain: (name: string) => boolean,
): boolean {
  const all = (...parts: Expression[]): boolean => parts.every((part) => everyName(part, holds, isPlain));
  switch (one.kind) {
    case 'literal':
      return true;
    case 'name':
      return holds(one.name);
    case 'member':
      return all(one.of);
    case 'item':
      return all(one.of, one.index);
    case 'unary':
      return all(one.of);
    case 'binary':
      return all(one.left, one.right);
    case 'call':
      return isPlain(one.name) && all(...one.args);
  }
}

/** What values are equal by: numbers and texts; undefined for all else, which is compared each time. */
function keyOf(value: Value): number | bigint | string | undefined {
  const plain = bare(value);
  if (typeof plain === 'number' || typeof plain === 'bigint') return plain;
  return isTextual(plain) ? asText(plain) : undefined;
}

interface Index {
  /** One number alone where there is only one, as mostly. */
  readonly byKey: ReadonlyMap<number | bigint | string, number | readonly number[]>;
  /** Items whose value is neither number nor text. */
  readonly others: readonly number[];
}

/**
 * Numbers of the items that may fulfil a condition, in their order: those whose value is the one that is wanted, and those of which that cannot be told beforehand. Undefined where all have to be gone through. The index is made
 * once for a list (a hash join).
 */
export function candidatesIn(
  list: Items,
  name: string,
  item: (context: Evaluation, node: RecordNode | undefined) => Value,
  wanted: () => Value,
  context: Evaluation,
): readonly number[] | undefined {
  if (list.length < LEAST_INDEXED) return undefined;
  const index = context.remember(list, name, () => indexOf(list, item, context));
  const key = index && orNothing(() => keyOf(wanted()));
  if (!index || key === undefined) return undefined;
  const known = index.byKey.get(key) ?? [];
  const found = typeof known === 'number' ? [known] : known;
  return index.others.length === 0 ? found : [...found, ...index.others].sort((a, b) => a - b);
}

function indexOf(
  list: Items,
  item: (context: Evaluation, node: RecordNode | undefined) => Value,
  context: Evaluation,
): Index | undefined {
  context.spend(list.length);
  const byKey = new Map<number | bigint | string, number | number[]>();
  const others: number[] = [];
  const isWhole = orNothing(() => {
    for (let i = 0; i < list.length; i++) {
      const key = keyOf(item(context, list.at(i) as RecordNode));
      const known = key === undefined ? others : byKey.get(key);
      if (known === undefined) byKey.set(key!, i);
      else if (typeof known === 'number') byKey.set(key!, [known, i]);
      else known.push(i);
    }
    return true;
  });
  return isWhole ? { byKey, others } : undefined;
}

/** What cannot be asked of every item may yet be asked of those before the one that is found, and what cannot be asked of who asks, where something else of the condition keeps it from being asked. */
function orNothing<T>(ask: () => T): T | undefined {
  try {
    return ask();
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}
