import { hashes } from '../hashes';
import { nearest } from '../registry';
import { compileColumn, linearOf } from './columns';
import { flattened, type Evaluation } from './evaluation';
import { parseExpression, wrong, type Expression } from './expression';
import { functions } from './functions';
import { isItems, JoinedItems, type Items } from './items';
import type { RecordNode, RegionNode } from './model';
import type { Compiled, RecordType } from './types';
import { candidatesIn, joinIn } from './search-index';
import { applyUnary, asCount, asTruth, binaryOperator, describeValue, senseless, type Value } from './values';

type Run = (context: Evaluation, node: RecordNode | undefined) => Value;

/** What names may stand in an expression besides the special ones. */
export interface KnownNames {
  readonly constants: ReadonlyMap<string, Value>;
  readonly keys: ReadonlySet<string>;
  readonly parameters: ReadonlySet<string>;
  /** Words for values, by the name of their list. */
  readonly enums: ReadonlyMap<string, ReadonlyMap<string, Value>>;
  /** Fields of all records and names of all parts. */
  readonly others: ReadonlySet<string>;
}

/** What a table says itself; every object has names such as `constructor` besides, which a script must not reach. */
const own = <T>(table: Readonly<Record<string, T>>, word: string): T | undefined =>
  Object.hasOwn(table, word) ? table[word] : undefined;

/** Functions that ask for the bytes of a thing and not for what is in it. */
const OF_BYTES = new Set(['plain', 'stored', 'size', 'place', 'end']);

/** Names with a meaning of their own. */
const SPECIAL: Record<string, Run> = {
  self: (_context, node) => node,
  parent: (_context, node) => node?.parent,
  position: (_context, node) => node?.position,
  following: (_context, node) => node?.siblings?.at(node.position + 1),
  preceding: (_context, node) =>
    node && node.position > 0 ? node.siblings?.at(node.position - 1) : undefined,
  payload: (context, node) => (node ? context.payloadOf(node) : undefined),
  here: (context) => context.here,
  true: () => true,
  false: () => false,
  nothing: () => undefined,
};

/** What may be asked of the name of the file that was opened. */
const FILE_NAMES: Readonly<Record<string, Run>> = {
  name: (context) => context.fileName,
  stem: ({ fileName }) => fileName.slice(0, endingAt(fileName)),
  ending: ({ fileName }) => fileName.slice(endingAt(fileName)),
};

const endingAt = (name: string): number => {
  const dot = name.lastIndexOf('.');
  return dot > 0 ? dot : name.length;
};

/** Those of them that may be asked of another record. */
const RELATIVE = new Set(['parent', 'position', 'following', 'preceding']);

/** Functions whose first argument names bytes of payloads, and so wait until these are gone through. */
const OF_ENTRIES = new Set(['entry', 'entryof']);

/** Parses an expression and turns it into closures; every name in it is checked now, not at run time. */
export function compileExpression(text: string, known: KnownNames): Compiled {
  const mentions = new Set<string>();
  const bytesOf = new Set<string>();
  const hashesPayload = new Set<string>();

  function compile(expression: Expression): Run {
    switch (expression.kind) {
      case 'literal':
        return constant(expression.value);
      case 'name':
        return name(expression.name, expression.at);
      case 'member':
        return member(expression);
      case 'item':
        return item(compile(expression.of), compile(expression.index));
      case 'unary': {
        const of = compile(expression.of);
        return (context, node) => applyUnary(expression.operator, of(context, node));
      }
      case 'binary':
        return binary(expression.operator, compile(expression.left), compile(expression.right));
      case 'call':
        return call(expression);
    }
  }

  function name(word: string, at: number): Run {
    const special = own(SPECIAL, word);
    if (special) {
      mentions.add(word);
      return special;
    }
    if (known.constants.has(word)) return constant(known.constants.get(word));
    if (!known.others.has(word)) {
      const words = [
        ...known.others,
        ...known.constants.keys(),
        ...known.enums.keys(),
        ...Object.keys(SPECIAL),
      ];
      throw wrong(at, 'a field, part or constant', `'${word}'`, suggestion(word, words));
    }
    mentions.add(word);
    return lookUp(word);
  }

  /** `file.size`, `key.NAME`, `parameter.NAME`, a word of an enum; undefined where it is none of these. */
  function spaced(of: string, word: string, at: number): Run | undefined {
    if (of === 'file' && word === 'size') {
      mentions.add('file');
      return (context) => context.fileSize;
    }
    const name = of === 'file' ? own(FILE_NAMES, word) : undefined;
    if (name) return name;
    if (of === 'file') throw wrong(at, 'file.size, file.name, file.stem or file.ending', `file.${word}`);
    if (of === 'key') {
      if (!known.keys.has(word)) throw wrong(at, 'a key of this script', word, suggestion(word, known.keys));
      return (context) => context.key(word);
    }
    if (of === 'parameter') {
      if (!known.parameters.has(word))
        throw wrong(at, 'a parameter of this script', word, suggestion(word, known.parameters));
      return (context) => context.parameter(word);
    }
    const words = known.enums.get(of);
    // A field may have the name of its enum.
    if (!words || (!words.has(word) && known.others.has(of))) return undefined;
    if (!words.has(word)) throw wrong(at, `a word of ${of}`, word, suggestion(word, words.keys()));
    return constant(words.get(word));
  }

  /** `asItLies` keeps a region around a list, for what is asked of its bytes. */
  function member(expression: Expression & { kind: 'member' }, asItLies = false): Run {
    const { of, name: word, at } = expression;
    if (of.kind === 'name') {
      const found = spaced(of.name, word, at);
      if (found) return found;
    }
    const special = RELATIVE.has(word) ? SPECIAL[word] : undefined;
    if (special) {
      mentions.add(word);
      const from = compile(of);
      return (context, node) => {
        const found = from(context, node);
        if (found === undefined) return undefined;
        if (!isRecord(found)) throw senseless(`a record before '.${word}'`, describeValue(found));
        return special(context, found);
      };
    }
    if (!known.others.has(word)) throw wrong(at, 'a field', `'${word}'`, suggestion(word, known.others));
    mentions.add(word);
    const inner = compile(of);
    const indexIn = fieldFinder(word);
    return (context, node) => {
      const found = inner(context, node);
      if (typeof found !== 'object' || !('sort' in found) || found.sort !== 'record')
        return memberOf(found, word, context, asItLies);
      const index = indexIn(found.type);
      if (index === undefined) throw senseless(`something with a field '${word}'`, describeValue(found));
      const value = context.field(found, index);
      return !asItLies && isRegion(value) ? transparent(value, context) : value;
    };
  }

  function call({ name: word, args, at }: Expression & { kind: 'call' }): Run {
    if (word === 'if') {
      if (args.length !== 3) throw wrong(at, 'if(condition, then, else)', `${args.length} arguments`);
      const [test, yes, no] = args.map(compile) as [Run, Run, Run];
      return (context, node) => (asTruth(test(context, node)) ? yes : no)(context, node);
    }
    if (word === 'was') {
      if (args.length !== 1) throw wrong(at, 'was(value)', `${args.length} arguments`);
      const of = compile(args[0]!);
      return (context, node) => of(context.original, node);
    }
    if (word === 'where' || word === 'first') return search(word, args, at);
    const called = functions.get(word);
    if (!called)
      throw wrong(
        at,
        'a function',
        `'${word}'`,
        suggestion(word, ['if', 'was', 'where', 'first', ...functions.keys()]),
      );
    if (args.length < called.least || args.length > called.most)
      throw wrong(at, `${argumentCount(called)} for ${word}`, `${args.length}`);
    if (word === 'plain' || word === 'stored') {
      const [of] = args;
      if (of?.kind === 'name') bytesOf.add(of.name);
      if (of?.kind === 'call' && OF_ENTRIES.has(of.name)) bytesOf.add('payload');
    }
    // What goes through the bytes of a whole file waits as well.
    const [, , file] = word === 'span' ? args : [];
    if (file) bytesOf.add(file.kind === 'literal' ? `file ${String(file.value)}` : 'payload');
    if (hashes.get(word) && isPlainPayload(args[0])) hashesPayload.add(word);
    const asksBytes = OF_BYTES.has(word);
    const runs = args.map((arg) => (asksBytes && arg.kind === 'member' ? member(arg, true) : compile(arg)));
    const [only] = runs;
    if (only && runs.length === 1)
      return (context, node) => {
        context.spend(1);
        return called.run(context, [only(context, node)], node);
      };
    return (context, node) => {
      context.spend(1);
      return called.run(
        context,
        runs.map((run) => run(context, node)),
        node,
      );
    };
  }

  /** `where(list, condition)`: the condition is said in terms of each item, `outer` names what asks. */
  function search(word: string, args: Expression[], at: number): Run {
    if (args.length !== 2) throw wrong(at, `${word}(list, condition)`, `${args.length} arguments`);
    const list = compile(args[0]!);
    const condition = compile(args[1]!);
    const join = joinIn(args[1]!, isFixed, isPlain);
    const item = join && compile(join.item);
    const wanted = join && compile(join.wanted);
    const called = `${word} ${at} of ${text}`;
    return (context, node) => {
      const found: Value[] = [];
      const items = flattened(list(context, node), context);
      const inside = withOuter(context, node);
      const some =
        item && wanted && candidatesIn(items, called, item, () => wanted(inside, undefined), context);
      const count = some?.length ?? items.length;
      context.spend(1 + count);
      for (let i = 0; i < count; i++) {
        const one = items.at(some ? some[i]! : i);
        if (!isRecord(one)) throw senseless('a list of records', describeValue(one));
        if (!asTruth(condition(inside, one))) continue;
        if (word === 'first') return one;
        found.push(one);
      }
      return word === 'first' ? undefined : found;
    };
  }

  /** Names that mean the same whatever record is asked. */
  function isFixed(word: string): boolean {
    return known.constants.has(word) || ['key', 'parameter', 'file'].includes(word);
  }

  /** Functions that follow from their arguments; a search asks others. */
  function isPlain(word: string): boolean {
    return word === 'if' || (functions.get(word)?.run.length ?? 3) < 3;
  }

  const parsed = parseExpression(text);
  return {
    text,
    run: compile(parsed),
    mentions,
    bytesOf,
    hashesPayload,
    linear: linearOf(parsed, known.constants),
    column: compileColumn(parsed, known.constants),
  };
}

/** Words that no field, part or constant may be called, since they mean something already. */
export const RESERVED: ReadonlySet<string> = new Set([
  ...Object.keys(SPECIAL),
  'outer',
  'file',
  'key',
  'parameter',
]);

SPECIAL.outer = (context) => (context as { outer?: RecordNode }).outer;

function withOuter(context: Evaluation, node: RecordNode | undefined): Evaluation {
  if (!node) return context;
  const inside = Object.create(context) as { outer?: RecordNode };
  inside.outer = node;
  return inside as unknown as Evaluation;
}

const isRecord = (value: Value): value is RecordNode =>
  typeof value === 'object' && 'sort' in value && value.sort === 'record';

const isPlainPayload = (of: Expression | undefined): boolean =>
  of?.kind === 'call' && of.name === 'plain' && of.args[0]?.kind === 'name' && of.args[0].name === 'payload';

const constant = (value: Value): Run => {
  return () => value;
};

function binary(operator: string, left: Run, right: Run): Run {
  if (operator === 'and')
    return (context, node) => asTruth(left(context, node)) && asTruth(right(context, node));
  if (operator === 'or')
    return (context, node) => asTruth(left(context, node)) || asTruth(right(context, node));
  const operate = binaryOperator(operator);
  return (context, node) => operate(left(context, node), right(context, node));
}

function item(of: Run, index: Run): Run {
  return (context, node) => {
    const found = of(context, node);
    const list = isItems(found) ? found : flattened(found, context);
    const at = index(context, node);
    return at === undefined ? undefined : list.at(asCount(at));
  };
}

/** Finds the number of a field; most questions are about the type that the last one was about. */
function fieldFinder(word: string): (type: RecordType) => number | undefined {
  let known: RecordType | undefined;
  let index: number | undefined;
  return (type) => {
    if (type !== known) {
      index = type.byName.get(word);
      known = type;
    }
    return index;
  };
}

/** A name of this record, of those around it, or of a part. */
function lookUp(word: string): Run {
  const indexIn = fieldFinder(word);
  return (context, node) => {
    let index = node && indexIn(node.type);
    if (index !== undefined) return context.field(node!, index);
    for (let at = node?.parent; at; at = at.parent) {
      index = at.type.byName.get(word);
      if (index !== undefined) return context.field(at, index);
    }
    if (context.hasPart(word)) return context.part(word);
    throw senseless(
      `'${word}' to be in reach`,
      'no such field in this record, those around it, or the parts',
    );
  };
}

function memberOf(of: Value, word: string, context: Evaluation, asItLies = false): Value {
  if (of === undefined) return undefined;
  if (isItems(of)) return context.fieldOfAll(of, word);
  if (typeof of === 'object' && 'sort' in of) {
    if (of.sort === 'region') return memberOf(context.content(of), word, context, asItLies);
    if (of.sort === 'record') {
      const index = of.type.byName.get(word);
      if (index !== undefined) {
        const value = context.field(of, index);
        return isRegion(value) && !asItLies ? transparent(value, context) : value;
      }
    }
  }
  throw senseless(`something with a field '${word}'`, describeValue(of));
}

/** One field of everything in a list, lists in it joined; what has no such field or no value is left out. */
export function fieldOfEach(list: Items, word: string, context: Evaluation): Items {
  context.spend(list.length);
  const found: Value[] = [];
  const parts: Items[] = [];
  for (let i = 0; i < list.length; i++) {
    const value = memberOf(list.at(i), word, context);
    if (isItems(value)) parts.push(value);
    else if (value !== undefined) found.push(value);
  }
  if (parts.length === 0) return found;
  if (parts.length === 1) return parts[0]!;
  return new JoinedItems(parts);
}

/** A region that only wraps a list reads as that list. */
function transparent(region: RegionNode, context: Evaluation): Value {
  const content = context.content(region);
  return isItems(content) ? content : region;
}

const isRegion = (value: Value): value is RegionNode =>
  typeof value === 'object' && 'sort' in value && value.sort === 'region';

function suggestion(word: string, known: Iterable<string>): string | undefined {
  const near = nearest(word, known);
  return near ? `Did you mean '${near}'?` : undefined;
}

const argumentCount = ({ least, most }: { least: number; most: number }): string =>
  least === most ? `${most} argument${most === 1 ? '' : 's'}` : `${least} to ${most} arguments`;
