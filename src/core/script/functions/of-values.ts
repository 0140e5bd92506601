import { collect, concatRefs, fromHex, toHex, type BytesRef } from '../../bytes';
import { flattened, type Evaluation } from '../evaluation';
import { isItems, SlicedItems } from '../items';
import { encodeText, TEXT_ENCODINGS } from '../texts';
import {
  asCount,
  asInteger,
  asText,
  canonical,
  describeValue,
  joinedText,
  senseless,
  type Value,
} from '../values';
import { bytesOf, define, small, type FunctionTable } from './script-function';

function number(value: Value, length: Value, little: boolean): Uint8Array {
  const size = asCount(length);
  if (size > 16) throw senseless('a size of at most 16 bytes', `${size}`);
  const pattern = BigInt.asUintN(8 * size, BigInt(asInteger(value)));
  const bytes = new Uint8Array(size);
  for (let i = 0; i < size; i++)
    bytes[little ? i : size - 1 - i] = Number((pattern >> BigInt(8 * i)) & 0xffn);
  return bytes;
}

function fromBytes(bytes: Uint8Array, little: boolean): number | bigint {
  if (bytes.length > 16) throw senseless('at most 16 bytes', `${bytes.length}`);
  let value = 0n;
  for (let i = 0; i < bytes.length; i++)
    value = (value << 8n) | BigInt(bytes[little ? bytes.length - 1 - i : i]!);
  return canonical(value);
}

/** Bytes `[from, from + count)` without going through what lies behind them. */
function taken(ref: BytesRef, from: number, count: number): Uint8Array {
  if (from + count > ref.length) throw senseless(`bytes ${from} to ${from + count}`, `${ref.length} bytes`);
  const out = new Uint8Array(count);
  let at = 0;
  for (const chunk of ref.chunks()) {
    const start = Math.max(from, at);
    const stop = Math.min(from + count, at + chunk.length);
    if (stop > start) out.set(chunk.subarray(start - at, stop - at), start - from);
    at += chunk.length;
    if (at >= from + count) break;
  }
  return out;
}

const roundUp = (value: Value, unit: Value): number => {
  const step = asCount(unit);
  if (step === 0) throw senseless('a unit other than 0', '0');
  return Math.ceil(asCount(value) / step) * step;
};

function extreme(args: readonly Value[], smaller: boolean, context: Evaluation): Value {
  const numbers = args.flatMap((value): readonly Value[] => {
    if (!isItems(value)) return [value];
    context.spend(value.length);
    return Array.from({ length: value.length }, (_, i) => value.at(i));
  });
  if (numbers.length === 0) return undefined;
  return numbers.reduce((best, value) => {
    const a = asInteger(best);
    const b = asInteger(value);
    return b < a === smaller && a !== b ? b : a;
  });
}

const MOST_REPEATED = 1 << 20;
const MOST_JOINED = 1 << 20;

export const byteFunctions: FunctionTable = {
  reversed: define('reversed(bytes)', 'bytes from last to first', (context, [of]) =>
    small(of, context).reverse(),
  ),
  concat: define('concat(bytes, ...)', 'bytes one after the other', (context, args) => {
    const all = concatRefs(args.map((value) => bytesOf(value, context)));
    // Long ones, such as most of a file for a checksum, are gone through and never held.
    return all.length <= MOST_JOINED ? collect(all) : all;
  }),
  take: define('take(bytes, from, count)', 'some of the bytes', (context, [of, from, count]) =>
    taken(bytesOf(of, context), asCount(from), asCount(count)),
  ),
  repeated: define('repeated(bytes, times)', 'bytes several times', (context, [of, times]) => {
    const one = small(of, context);
    const count = asCount(times);
    if (one.length * count > MOST_REPEATED)
      throw senseless(`at most ${MOST_REPEATED} bytes`, `${one.length * count}`);
    const out = new Uint8Array(one.length * count);
    for (let i = 0; i < count; i++) out.set(one, i * one.length);
    return out;
  }),
  xored: define('xored(bytes, key)', 'exclusive or with a repeated key', (context, [of, key_]) => {
    const out = small(of, context);
    const key = small(key_, context);
    if (key.length === 0) throw senseless('a key of at least one byte', 'none');
    return out.map((byte, i) => byte ^ key[i % key.length]!);
  }),
  le: define('le(number, size)', 'bytes of a number, lowest first', (_context, [value, size]) =>
    number(value, size, true),
  ),
  be: define('be(number, size)', 'bytes of a number, highest first', (_context, [value, size]) =>
    number(value, size, false),
  ),
  fromle: define('fromle(bytes)', 'the number that bytes are, lowest first', (context, [of]) =>
    fromBytes(small(of, context), true),
  ),
  frombe: define('frombe(bytes)', 'the number that bytes are, highest first', (context, [of]) =>
    fromBytes(small(of, context), false),
  ),
  hex: define("hex('00 ff')", 'bytes from hexadecimal digits', (_context, [text]) => {
    const bytes = fromHex(asText(text).replace(/\s/g, ''));
    if (!bytes) throw senseless('hexadecimal digits', asText(text));
    return bytes;
  }),
  digits: define('digits(bytes)', 'bytes as hexadecimal digits', (context, [of]) =>
    toHex(small(of, context)),
  ),
  encoded: define(
    "encoded(text [, 'encoding'])",
    'the bytes of a text, UTF-8 if nothing is said',
    (_context, [text, name]) => {
      const wanted = name === undefined ? 'utf-8' : asText(name);
      const encoding = TEXT_ENCODINGS.find((known) => known === wanted);
      if (!encoding) throw senseless(`an encoding: ${TEXT_ENCODINGS.join(', ')}`, describeValue(name));
      return encodeText(asText(text), encoding);
    },
  ),
};

export const numberFunctions: FunctionTable = {
  ceildiv: define(
    'ceildiv(number, unit)',
    'division rounded up',
    (_context, [value, unit]) => roundUp(value, unit) / asCount(unit),
  ),
  exactdiv: define(
    'exactdiv(number, unit)',
    'division that must come out whole',
    (_context, [value, unit]) => {
      const [whole, by] = [asCount(value), asCount(unit)];
      if (by > 0 && whole % by === 0) return whole / by;
      throw senseless(`a multiple of ${by}`, `${whole}`);
    },
  ),
  roundup: define('roundup(number, unit)', 'the next multiple of a unit', (_context, [value, unit]) =>
    roundUp(value, unit),
  ),
  min: define('min(number, ...)', 'the smallest, also of lists', (context, args) =>
    extreme(args, true, context),
  ),
  max: define('max(number, ...)', 'the largest, also of lists', (context, args) =>
    extreme(args, false, context),
  ),
  bits: define(
    'bits(number, from, count)',
    'some of the bits, counted from the lowest',
    (_context, [of, from, count]) =>
      canonical(
        (BigInt(asInteger(of)) >> BigInt(asCount(from))) &
          ((1n << BigInt(Math.min(64, asCount(count)))) - 1n),
      ),
  ),
  signed: define(
    'signed(number, bits)',
    'the number that a pattern of so many bits is with a sign',
    (_context, [of, width]) => canonical(BigInt.asIntN(Math.min(64, asCount(width)), BigInt(asInteger(of)))),
  ),
  unsigned: define('unsigned(number, bits)', 'the lowest bits of a number', (_context, [of, width]) =>
    canonical(BigInt.asUintN(Math.min(64, asCount(width)), BigInt(asInteger(of)))),
  ),
  dostime: define(
    'dostime(date, time)',
    'seconds since 1970 of the two 16-bit words of DOS, taken as UTC',
    (_context, [date, time]) => {
      const day = asCount(date);
      const clock = asCount(time);
      return (
        Date.UTC(
          1980 + (day >> 9),
          ((day >> 5) & 15) - 1,
          day & 31,
          clock >> 11,
          (clock >> 5) & 63,
          (clock & 31) * 2,
        ) / 1000
      );
    },
  ),
  ticktime: define(
    'ticktime(number)',
    'seconds since 1970 of 100-nanosecond ticks since 1601',
    (_context, [ticks]) => canonical(BigInt(asInteger(ticks)) / 10_000_000n - 11_644_473_600n),
  ),
};

export const textFunctions: FunctionTable = {
  lower: define('lower(text)', 'a text in lower case', (_context, [text]) => asText(text).toLowerCase()),
  upper: define('upper(text)', 'a text in upper case', (_context, [text]) => asText(text).toUpperCase()),
  text: define(
    'text(number [, base, width])',
    'a number as digits, decimal if nothing is said',
    (_context, [value, base, width]) => {
      const radix = base === undefined ? 10 : asCount(base);
      if (radix < 2 || radix > 36) throw senseless('a base of 2 to 36', `${radix}`);
      return asInteger(value)
        .toString(radix)
        .padStart(width === undefined ? 0 : Math.min(64, asCount(width)), '0');
    },
  ),
  number: define('number(text [, base])', 'the number that digits spell', (_context, [text, base]) => {
    const value = Number.parseInt(asText(text).trim(), base === undefined ? 10 : asCount(base));
    if (!Number.isSafeInteger(value)) throw senseless('digits', describeValue(text));
    return value;
  }),
  length: define('length(text)', 'characters of a text', (_context, [text]) => asText(text).length),
  slice: define(
    'slice(text, from [, to])',
    'part of a text or of a list, to before a place; negative numbers count from the end',
    (_context, [of, from, to]) => {
      const start = Number(asInteger(from));
      const end = to === undefined ? undefined : Number(asInteger(to));
      if (!isItems(of)) return asText(of).slice(start, end);
      const place = (at: number): number => Math.max(0, Math.min(of.length, at < 0 ? of.length + at : at));
      return new SlicedItems(of, place(start), place(end ?? of.length));
    },
  ),
  replace: define(
    'replace(text, old, new)',
    'a text with one part replaced everywhere',
    (_context, [text, old, by]) =>
      asText(old) === '' ? asText(text) : joinedText(asText(text).split(asText(old)), asText(by)),
  ),
  join: define('join(list, between)', 'texts one after the other', (context, [list, between]) => {
    const items = flattened(list, context);
    const texts: string[] = [];
    for (let i = 0; i < items.length; i++) texts.push(asText(items.at(i)));
    return joinedText(texts, asText(between));
  }),
  between: define(
    'between(text, after, before)',
    'what stands between two texts, or nothing',
    (_context, [text, after, before]) => {
      const whole = asText(text);
      const at = whole.indexOf(asText(after));
      if (at < 0) return undefined;
      const from = at + asText(after).length;
      const to = whole.indexOf(asText(before), from);
      return to < 0 ? undefined : whole.slice(from, to);
    },
  ),
  part: define(
    'part(text, separator, number)',
    'one piece of a text cut at a separator; negative numbers count from its end',
    (_context, [text, separator, which]) =>
      asText(text)
        .split(asText(separator))
        .at(Number(asInteger(which))),
  ),
  startswith: define('startswith(text, start)', 'whether a text begins so', (_context, [text, start]) =>
    asText(text).startsWith(asText(start)),
  ),
  endswith: define('endswith(text, end)', 'whether a text ends so', (_context, [text, end]) =>
    asText(text).endsWith(asText(end)),
  ),
  contains: define('contains(text, other)', 'whether a text has another in it', (_context, [text, other]) =>
    asText(text).includes(asText(other)),
  ),
  trimmed: define('trimmed(text)', 'a text without blanks at its ends', (_context, [text]) =>
    asText(text).trim(),
  ),
  dropped: define('dropped(text)', 'a path without its extension', (_context, [text]) =>
    asText(text).replace(/\.[^./\\]*$/, ''),
  ),
};
