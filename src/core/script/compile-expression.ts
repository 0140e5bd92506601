import { hashes } from '../hashes';
import { nearest } from '../registry';
import { flattened, type Evaluation } from './evaluation';
import { parseExpression, wrong, type Expression } from './expression';
import { functions } from './functions';
import type { RecordNode, RegionNode } from './model';
import type { Compiled } from './types';
import { applyBinary, applyUnary, asCount, asTruth, describeValue, senseless, type Value } from './values';

type Run = (context: Evaluation, node: RecordNode | undefined) => Value;

/** What names may stand in an expression besides the special ones. */
export interface KnownNames {
  readonly constants: ReadonlyMap<string, Value>;
  readonly keys: ReadonlySet<string>;
  /** Fields of all records and names of all parts. */
  readonly others: ReadonlySet<string>;
}

/** Names with a meaning of their own. */
const SPECIAL: Record<string, Run> = {
  self: (_context, node) => node,
  parent: (_context, node) => node?.parent,
  position: (_context, node) => node?.position,
  following: (_context, node) => node?.siblings?.[node.position + 1],
  preceding: (_context, node) => node?.siblings?.[node.position - 1],
  payload: (context, node) => (node ? context.payloadOf(node) : undefined),
  true: () => true,
  false: () => false,
};

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
    const special = SPECIAL[word];
    if (special) {
      mentions.add(word);
      return special;
    }
    if (known.constants.has(word)) return constant(known.constants.get(word));
    if (!known.others.has(word)) {
      const words = [...known.others, ...known.constants.keys(), ...Object.keys(SPECIAL)];
      throw wrong(at, 'a field, part or constant', `'${word}'`, suggestion(word, words));
    }
    mentions.add(word);
    return (context, node) => lookUp(word, context, node);
  }

  function member(expression: Expression & { kind: 'member' }): Run {
    const { of, name: word, at } = expression;
    if (of.kind === 'name' && of.name === 'file') {
      if (word !== 'size') throw wrong(at, 'file.size', `file.${word}`);
      mentions.add('file');
      return (context) => context.fileSize;
    }
    if (of.kind === 'name' && of.name === 'key') {
      if (!known.keys.has(word)) throw wrong(at, 'a key of this script', word, suggestion(word, known.keys));
      return (context) => context.key(word);
    }
    if (!known.others.has(word)) throw wrong(at, 'a field', `'${word}'`, suggestion(word, known.others));
    mentions.add(word);
    const inner = compile(of);
    return (context, node) => memberOf(inner(context, node), word, context);
  }

  function call({ name: word, args, at }: Expression & { kind: 'call' }): Run {
    if (word === 'if') {
      if (args.length !== 3) throw wrong(at, 'if(condition, then, else)', `${args.length} arguments`);
      const [test, yes, no] = args.map(compile) as [Run, Run, Run];
      return (context, node) => (asTruth(test(context, node)) ? yes : no)(context, node);
    }
    const called = functions.get(word);
    if (!called) throw wrong(at, 'a function', `'${word}'`, suggestion(word, ['if', ...functions.keys()]));
    if (args.length < called.least || args.length > called.most)
      throw wrong(at, `${called.least} to ${called.most} arguments for ${word}`, `${args.length}`);
    if (word === 'plain' || word === 'stored') {
      const [of] = args;
      if (of?.kind === 'name') bytesOf.add(of.name);
    }
    if (hashes.get(word) && isPlainPayload(args[0])) hashesPayload.add(word);
    const runs = args.map(compile);
    return (context, node) => {
      context.spend(1);
      return called.run(
        context,
        runs.map((run) => run(context, node)),
      );
    };
  }

  return { text, mentions, bytesOf, hashesPayload, run: compile(parseExpression(text)) };
}

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
  return (context, node) => applyBinary(operator, left(context, node), right(context, node));
}

function item(of: Run, index: Run): Run {
  return (context, node) => {
    const list = flattened(of(context, node), context);
    return list[asCount(index(context, node))];
  };
}

function lookUp(word: string, context: Evaluation, node: RecordNode | undefined): Value {
  for (let at = node; at; at = at.parent) {
    const index = at.type.byName.get(word);
    if (index !== undefined) return context.field(at, index);
  }
  if (context.hasPart(word)) return context.part(word);
  throw senseless(`'${word}' to be in reach`, 'no such field in this record, those around it, or the parts');
}

function memberOf(of: Value, word: string, context: Evaluation): Value {
  if (of === undefined) return undefined;
  if (Array.isArray(of)) {
    context.spend(of.length);
    const found: Value[] = [];
    for (const one of of as readonly Value[]) {
      const value = memberOf(one, word, context);
      if (Array.isArray(value)) for (const inner of value as readonly Value[]) found.push(inner);
      else if (value !== undefined) found.push(value);
    }
    return found;
  }
  if (typeof of === 'object' && 'sort' in of) {
    if (of.sort === 'region') return memberOf(context.content(of), word, context);
    if (of.sort === 'record') {
      const index = of.type.byName.get(word);
      if (index !== undefined) {
        const value = context.field(of, index);
        return isRegion(value) ? transparent(value, context) : value;
      }
    }
  }
  throw senseless(`something with a field '${word}'`, describeValue(of));
}

/** A region that only wraps a list reads as that list. */
function transparent(region: RegionNode, context: Evaluation): Value {
  const content = context.content(region);
  return Array.isArray(content) ? content : region;
}

const isRegion = (value: Value): value is RegionNode =>
  typeof value === 'object' && 'sort' in value && value.sort === 'region';

function suggestion(word: string, known: Iterable<string>): string | undefined {
  const near = nearest(word, known);
  return near ? `Did you mean '${near}'?` : undefined;
}
