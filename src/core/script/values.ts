import { firstDifference, FormatError, refOfBytes, toHex, type BytesRef } from '../bytes';
import { isItems, type ItemList } from './items';
import type { PayloadHandle, RecordNode, RegionNode } from './model';

/**
 * What an expression can be. Integers are numbers while they are safe and bigints beyond, never both for
 * one value, so that `===` compares them.
 */
export type Value =
  | number
  | bigint
  | string
  | boolean
  | Uint8Array
  | BytesRef
  | RecordNode
  | RegionNode
  | PayloadHandle
  | KeptText
  | KeptNumber
  | ItemList
  | readonly Value[]
  | undefined;

/** A text whose bytes are not what encoding it would give, kept so that it can be written back. */
export interface KeptText {
  readonly sort: 'text';
  readonly text: string;
  readonly raw: Uint8Array;
}

/** A number whose bytes may be spelled in several ways, kept so that they can be written back. */
export interface KeptNumber {
  readonly sort: 'number';
  readonly value: number | bigint;
  readonly raw: Uint8Array;
}

/** A number without the spelling it was read in. */
export const bare = (value: Value): Value =>
  typeof value === 'object' && 'sort' in value && value.sort === 'number' ? value.value : value;

const LEAST = BigInt(Number.MIN_SAFE_INTEGER);
const MOST = BigInt(Number.MAX_SAFE_INTEGER);
const WIDEST = 1n << 128n;

/** The one form of an integer. */
export function canonical(value: bigint): number | bigint {
  if (value >= LEAST && value <= MOST) return Number(value);
  if (value > WIDEST || value < -WIDEST) throw senseless('a number of at most 128 bits', 'more');
  return value;
}

export const isInteger = (value: Value): value is number | bigint =>
  typeof value === 'bigint' || (typeof value === 'number' && Number.isInteger(value));

const isNumeric = (value: Value): value is number | bigint =>
  typeof value === 'bigint' || typeof value === 'number';

export function senseless(expected: string, actual: string): FormatError {
  return new FormatError('bad-value', { expected, actual });
}

/** A value in words, short enough for a message. */
export function describeValue(value: Value): string {
  if (value === undefined) return 'nothing';
  if (typeof value === 'string') return JSON.stringify(value.length > 40 ? `${value.slice(0, 40)}…` : value);
  if (typeof value === 'bigint') return `0x${value.toString(16)}`;
  if (typeof value === 'number')
    return Number.isInteger(value) && value > 9 ? `${value} (0x${value.toString(16)})` : `${value}`;
  if (typeof value === 'boolean') return String(value);
  if (value instanceof Uint8Array)
    return `${toHex(value.subarray(0, 16))}${value.length > 16 ? '…' : ''} (${value.length} bytes)`;
  if (isItems(value)) return `a list of ${value.length}`;
  if ('sort' in value) {
    if (value.sort === 'number') return describeValue(value.value);
    return value.sort === 'text' ? JSON.stringify(value.text) : `a ${value.sort}`;
  }
  return 'bytes';
}

export function asInteger(given: Value): number | bigint {
  if (isInteger(given)) return given;
  const value = bare(given);
  if (isInteger(value)) return value;
  if (typeof value === 'boolean') return value ? 1 : 0;
  throw senseless('a whole number', describeValue(value));
}

/** A count, size or offset: whole, not negative, safe. */
export function asCount(value: Value): number {
  const whole = asInteger(value);
  if (typeof whole === 'number' && whole >= 0) return whole;
  throw senseless('a count or place of at most 53 bits', describeValue(value));
}

export function asTruth(given: Value): boolean {
  const value = bare(given);
  if (typeof value === 'boolean') return value;
  if (value === undefined) return false;
  if (isNumeric(value)) return value !== 0;
  throw senseless('true or false', describeValue(value));
}

export function asText(value: Value): string {
  if (typeof value === 'string') return value;
  if (typeof value === 'object' && 'sort' in value && value.sort === 'text') return value.text;
  throw senseless('a text', describeValue(value));
}

/** Bytes of bytes or of a text in UTF-8. */
export function asRef(value: Value): BytesRef {
  if (value instanceof Uint8Array) return refOfBytes(value);
  if (typeof value === 'string') return refOfBytes(new TextEncoder().encode(value));
  if (typeof value === 'object' && 'chunks' in value) return value;
  throw senseless('bytes', describeValue(value));
}

/** A longer text than this is never made by an expression. */
const MOST_TEXT = 1 << 20;

/** Texts one after the other; refused before they are joined where too long. */
export function joinedText(texts: readonly string[], between: string): string {
  let length = Math.max(0, texts.length - 1) * between.length;
  for (const text of texts) length += text.length;
  if (length > MOST_TEXT) throw senseless(`a text of at most ${MOST_TEXT} characters`, `${length}`);
  return texts.join(between);
}

type Both = (a: bigint, b: bigint) => bigint;

function exact(a: number | bigint, b: number | bigint, slow: Both): number | bigint {
  return canonical(slow(BigInt(a), BigInt(b)));
}

function floorDivide(a: bigint, b: bigint): bigint {
  const quotient = a / b;
  return a % b !== 0n && a < 0n !== b < 0n ? quotient - 1n : quotient;
}

function arithmetic(operator: string, left: Value, right: Value): number | bigint {
  if (!isNumeric(left) || !isNumeric(right)) {
    return arithmetic(operator, asInteger(left), asInteger(right));
  }
  const fast = typeof left === 'number' && typeof right === 'number';
  if (fast && !(Number.isInteger(left) && Number.isInteger(right))) return float(operator, left, right);
  switch (operator) {
    case '+':
      return fast && Number.isSafeInteger(left + right) ? left + right : exact(left, right, (a, b) => a + b);
    case '-':
      return fast && Number.isSafeInteger(left - right) ? left - right : exact(left, right, (a, b) => a - b);
    case '*':
      return fast && Number.isSafeInteger(left * right) ? left * right : exact(left, right, (a, b) => a * b);
    case '/':
      if (isZero(right)) throw senseless('a divisor other than 0', '0');
      return fast ? Math.floor(left / right) : exact(left, right, floorDivide);
    default:
      if (isZero(right)) throw senseless('a divisor other than 0', '0');
      return exact(left, right, (a, b) => a - floorDivide(a, b) * b);
  }
}

const isZero = (value: number | bigint): boolean => value === 0 || value === 0n;

function float(operator: string, a: number, b: number): number {
  if (operator === '+') return a + b;
  if (operator === '-') return a - b;
  if (operator === '*') return a * b;
  return operator === '/' ? a / b : a % b;
}

function bits(operator: string, left: Value, right: Value): number | bigint {
  const a = asInteger(left);
  const b = asInteger(right);
  if (operator === '<<' || operator === '>>') {
    if (typeof b === 'bigint' || b < 0 || b > 64) throw senseless('a shift of 0 to 64', describeValue(b));
    return exact(a, b, operator === '<<' ? (x, y) => x << y : (x, y) => x >> y);
  }
  if (operator === '&') {
    if (typeof a === 'number' && typeof b === 'number' && fits31(a) && fits31(b)) return a & b;
    return exact(a, b, (x, y) => x & y);
  }
  return exact(a, b, operator === '|' ? (x, y) => x | y : (x, y) => x ^ y);
}

const fits31 = (value: number): boolean => value >= 0 && value <= 0x7fffffff;

/** Whether two values are the same; bytes and texts by content. */
export function sameValue(one: Value, other: Value): boolean {
  if (one === other) return true;
  const left = bare(one);
  const right = bare(other);
  if (left === right) return true;
  if (typeof left === 'boolean' || typeof right === 'boolean')
    return typeof left === typeof right ? false : asInteger(left) === asInteger(right);
  if (isTextual(left) && isTextual(right)) return asText(left) === asText(right);
  if (left instanceof Uint8Array && right instanceof Uint8Array)
    return left.length === right.length && left.every((byte, i) => byte === right[i]);
  const lengths = [byteLength(left), byteLength(right)];
  if (lengths[0] === undefined || lengths[0] !== lengths[1] || lengths[0] > MOST_COMPARED) return false;
  return firstDifference(asRef(left), asRef(right)) === undefined;
}

/** Longer bytes are told apart by a hash, not in an expression. */
const MOST_COMPARED = 16 << 20;

function byteLength(value: Value): number | undefined {
  if (value instanceof Uint8Array) return value.length;
  return typeof value === 'object' && 'chunks' in value ? value.length : undefined;
}

export const isTextual = (value: Value): boolean =>
  typeof value === 'string' || (typeof value === 'object' && 'sort' in value && value.sort === 'text');

function compare(operator: string, one: Value, other: Value): boolean {
  const left = bare(one);
  const right = bare(other);
  if (!isNumeric(left) || !isNumeric(right))
    throw senseless('two numbers to compare', `${describeValue(left)} and ${describeValue(right)}`);
  if (operator === '<') return left < right;
  if (operator === '<=') return left <= right;
  return operator === '>' ? left > right : left >= right;
}

type Operate = (left: Value, right: Value) => Value;

const add: Operate = (left, right) =>
  isTextual(left) && isTextual(right)
    ? joinedText([asText(left), asText(right)], '')
    : arithmetic('+', left, right);

const ARITHMETIC = ['-', '*', '/', '%'];
const OF_BITS = ['&', '|', '^', '<<', '>>'];

/** What an operator does, for every one but `and` and `or`; chosen once where an expression is compiled. */
export function binaryOperator(operator: string): Operate {
  if (operator === '==') return sameValue;
  if (operator === '!=') return (left, right) => !sameValue(left, right);
  if (operator === '+') return add;
  if (ARITHMETIC.includes(operator)) return (left, right) => arithmetic(operator, left, right);
  if (OF_BITS.includes(operator)) return (left, right) => bits(operator, left, right);
  return (left, right) => compare(operator, left, right);
}

export function applyUnary(operator: string, of: Value): Value {
  if (operator === 'not') return !asTruth(of);
  if (operator === '-' && typeof of === 'number') return of === 0 ? 0 : -of;
  const whole = BigInt(asInteger(of));
  return canonical(operator === '-' ? -whole : ~whole);
}
