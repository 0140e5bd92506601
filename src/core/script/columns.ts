import type { Expression } from './expression';
import type { ColumnExpression, ColumnInputs, Linear } from './types';
import type { Value } from './values';

/** Integers beyond this are not exact in a column of doubles. */
const MOST = Number.MAX_SAFE_INTEGER;
const MOST_BITS = 0x7fffffff;

type Maker = (inputs: ColumnInputs) => Float64Array | number | undefined;

/**
 * Compiles an expression to work on whole columns, a table's rows at a time; undefined where it uses
 * something that columns do not have. Values that would not be exact make the result undefined at run time.
 */
export function compileColumn(
  expression: Expression,
  constants: ReadonlyMap<string, Value>,
): ColumnExpression | undefined {
  const maker = make(expression, constants);
  if (!maker) return undefined;
  return (inputs) => {
    const made = maker(inputs);
    return typeof made === 'number' ? new Float64Array(inputs.count).fill(made) : made;
  };
}

/** Parts of whole numbers are not worked out by columns, which are exact. */
const isWhole = (value: Value): value is number => typeof value === 'number' && Number.isInteger(value);

function make(expression: Expression, constants: ReadonlyMap<string, Value>): Maker | undefined {
  switch (expression.kind) {
    case 'literal': {
      const { value } = expression;
      return isWhole(value) ? () => value : undefined;
    }
    case 'name': {
      const { name } = expression;
      const constant = constants.get(name);
      if (constants.has(name)) return isWhole(constant) ? () => constant : undefined;
      if (name === 'position') return (inputs) => inputs.special('position');
      return (inputs) => inputs.field(name);
    }
    case 'call':
      return call(expression, constants);
    case 'binary': {
      const left = make(expression.left, constants);
      const right = make(expression.right, constants);
      const apply = OPERATORS[expression.operator];
      return left && right && apply && combine(apply, left, right);
    }
    default:
      return undefined;
  }
}

function call(
  expression: Expression & { kind: 'call' },
  constants: ReadonlyMap<string, Value>,
): Maker | undefined {
  const [first] = expression.args;
  if (isPayload(first)) {
    if (expression.name === 'place') return (inputs) => inputs.special('place');
    if (expression.name === 'size') return (inputs) => inputs.special('stored');
  }
  const inner = first?.kind === 'call' && first.name === 'plain' ? first.args[0] : undefined;
  if (expression.name === 'size' && isPayload(inner)) return (inputs) => inputs.special('plain');
  if (expression.name === 'was' && first) return make(first, constants);
  return undefined;
}

const isPayload = (of: Expression | undefined): boolean => of?.kind === 'name' && of.name === 'payload';

/** Each gives NaN where the result would not be exact. */
const OPERATORS: Record<string, (a: number, b: number) => number> = {
  '+': (a, b) => a + b,
  '-': (a, b) => a - b,
  '*': (a, b) => a * b,
  '/': (a, b) => (b === 0 ? Number.NaN : Math.floor(a / b)),
  '%': (a, b) => (b === 0 ? Number.NaN : a - Math.floor(a / b) * b),
  '&': (a, b) => (inBits(a) && inBits(b) ? a & b : Number.NaN),
  '|': (a, b) => (inBits(a) && inBits(b) ? a | b : Number.NaN),
  '^': (a, b) => (inBits(a) && inBits(b) ? a ^ b : Number.NaN),
  '<<': (a, b) => (a >= 0 && b >= 0 && b < 53 ? a * 2 ** b : Number.NaN),
  '>>': (a, b) => (a >= 0 && b >= 0 && b < 64 ? Math.floor(a / 2 ** b) : Number.NaN),
};

const inBits = (value: number): boolean => value >= 0 && value <= MOST_BITS;

function combine(apply: (a: number, b: number) => number, left: Maker, right: Maker): Maker {
  return (inputs) => {
    const a = left(inputs);
    const b = right(inputs);
    if (a === undefined || b === undefined) return undefined;
    if (typeof a === 'number' && typeof b === 'number') {
      const value = apply(a, b);
      return Math.abs(value) <= MOST ? value : undefined;
    }
    const out = new Float64Array(inputs.count);
    let exact = true;
    for (let i = 0; i < out.length; i++) {
      const value = apply(typeof a === 'number' ? a : a[i]!, typeof b === 'number' ? b : b[i]!);
      // False for NaN as well.
      if (!(value <= MOST && value >= -MOST)) exact = false;
      out[i] = value;
    }
    return exact ? out : undefined;
  };
}

/** Whether an expression is a number, a name, or a name scaled and shifted by numbers. */
export function linearOf(expression: Expression, constants: ReadonlyMap<string, Value>): Linear | undefined {
  if (expression.kind === 'literal')
    return isWhole(expression.value) ? { name: undefined, times: 0, plus: expression.value } : undefined;
  if (expression.kind === 'name') {
    const constant = constants.get(expression.name);
    if (isWhole(constant)) return { name: undefined, times: 0, plus: constant };
    return constant === undefined ? { name: expression.name, times: 1, plus: 0 } : undefined;
  }
  if (expression.kind !== 'binary') return undefined;
  const left = linearOf(expression.left, constants);
  const right = linearOf(expression.right, constants);
  if (!left || !right || (left.name !== undefined && right.name !== undefined)) return undefined;
  const name = left.name ?? right.name;
  if (expression.operator === '+')
    return { name, times: left.times + right.times, plus: left.plus + right.plus };
  if (expression.operator === '-')
    return { name, times: left.times - right.times, plus: left.plus - right.plus };
  if (expression.operator !== '*') return undefined;
  const scale = left.name === undefined ? left.plus : right.plus;
  const other = left.name === undefined ? right : left;
  return { name, times: other.times * scale, plus: other.plus * scale };
}
