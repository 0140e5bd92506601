import { collect, concatRefs, fromHex, refOfBytes, type BytesRef } from '../bytes';
import { hashes, hashOf } from '../hashes';
import { flattened, type Evaluation, type Placed, type PlainRef } from './evaluation';
import type { PayloadHandle, RecordNode, RegionNode } from './model';
import { asCount, asInteger, asRef, asText, canonical, describeValue, senseless, type Value } from './values';

interface ScriptFunction {
  readonly least: number;
  readonly most: number;
  readonly about: string;
  run(context: Evaluation, args: readonly Value[]): Value;
}

/** More than this is never held at once for an expression. */
const MOST_HELD_BYTES = 16 << 20;

function sortOf(value: Value): string | undefined {
  return typeof value === 'object' && 'sort' in value ? (value.sort as string) : undefined;
}

function asPlaced(value: Value): Placed {
  const sort = sortOf(value);
  if (sort === 'record' || sort === 'region' || sort === 'payload') return value as Placed;
  throw senseless('a part, a record, a region or the payload', describeValue(value));
}

function sealed(value: Value): RegionNode | PayloadHandle {
  const sort = sortOf(value);
  if (sort === 'region' || sort === 'payload') return value as RegionNode | PayloadHandle;
  throw senseless('a region or the payload', describeValue(value));
}

function asRecord(value: Value): RecordNode {
  if (sortOf(value) === 'record') return value as RecordNode;
  throw senseless('a record', describeValue(value));
}

function small(value: Value, context: Evaluation): Uint8Array {
  const ref = bytesOf(value, context);
  if (ref.length > MOST_HELD_BYTES) throw senseless(`at most ${MOST_HELD_BYTES} bytes`, `${ref.length}`);
  return collect(ref);
}

function bytesOf(value: Value, context: Evaluation): BytesRef {
  const sort = sortOf(value);
  return sort === 'record' || sort === 'region' || sort === 'payload'
    ? context.stored(value as Placed)
    : asRef(value);
}

function number(value: Value, length: Value, little: boolean): Uint8Array {
  const size = asCount(length);
  if (size > 16) throw senseless('a size of at most 16 bytes', `${size}`);
  const pattern = BigInt.asUintN(8 * size, BigInt(asInteger(value)));
  const bytes = new Uint8Array(size);
  for (let i = 0; i < size; i++)
    bytes[little ? i : size - 1 - i] = Number((pattern >> BigInt(8 * i)) & 0xffn);
  return bytes;
}

const roundUp = (value: Value, unit: Value): number => {
  const step = asCount(unit);
  if (step === 0) throw senseless('a unit other than 0', '0');
  return Math.ceil(asCount(value) / step) * step;
};

function extreme(args: readonly Value[], smaller: boolean): Value {
  return args.reduce((best, value) => {
    const a = asInteger(best);
    const b = asInteger(value);
    return b < a === smaller && a !== b ? b : a;
  });
}

const table: Record<string, ScriptFunction> = {
  count: {
    least: 1,
    most: 1,
    about: 'how many there are in a list',
    run: (context, [list]) => flattened(list, context).length,
  },
  place: {
    least: 1,
    most: 1,
    about: 'offset in the file, in bytes; 0 for nothing',
    run: (context, [of]) => (of === undefined ? 0 : context.place(asPlaced(of))),
  },
  size: {
    least: 1,
    most: 1,
    about: 'bytes that a thing takes as it lies, or the length of bytes; 0 for nothing',
    run(context, [of]) {
      if (of === undefined) return 0;
      const sort = sortOf(of);
      if (sort === 'record' || sort === 'region' || sort === 'payload')
        return context.storedLength(of as Placed);
      return asRef(of).length;
    },
  },
  stored: {
    least: 1,
    most: 1,
    about: 'the bytes of a thing as they lie in the file',
    run: (context, [of]) => context.stored(asPlaced(of)),
  },
  plain: {
    least: 1,
    most: 1,
    about: 'the bytes of a region or payload after its seal is taken off',
    run: (context, [of]) => context.plain(sealed(of)),
  },
  before: {
    least: 2,
    most: 2,
    about: 'the bytes of a record before the named field',
    run: (context, [of, field]) => context.around(asRecord(of), asText(field), 'before'),
  },
  zeroed: {
    least: 2,
    most: 2,
    about: 'the bytes of a record with the named field as zeros',
    run: (context, [of, field]) => context.around(asRecord(of), asText(field), 'zeroed'),
  },
  reversed: {
    least: 1,
    most: 1,
    about: 'bytes from last to first',
    run: (context, [of]) => small(of, context).reverse(),
  },
  concat: {
    least: 1,
    most: 16,
    about: 'bytes one after the other',
    run: (context, args) => collect(concatRefs(args.map((value) => refOfBytes(small(value, context))))),
  },
  take: {
    least: 3,
    most: 3,
    about: 'take(bytes, from, count)',
    run(context, [of, from, count]) {
      const bytes = small(of, context);
      const start = asCount(from);
      const end = start + asCount(count);
      if (end > bytes.length) throw senseless(`bytes ${start} to ${end}`, `${bytes.length} bytes`);
      return bytes.slice(start, end);
    },
  },
  le: {
    least: 2,
    most: 2,
    about: 'le(number, size): its bytes, lowest first',
    run: (_context, [value, size]) => number(value, size, true),
  },
  be: {
    least: 2,
    most: 2,
    about: 'be(number, size): its bytes, highest first',
    run: (_context, [value, size]) => number(value, size, false),
  },
  hex: {
    least: 1,
    most: 1,
    about: 'bytes from hexadecimal digits',
    run(_context, [text]) {
      const bytes = fromHex(asText(text).replace(/\s/g, ''));
      if (!bytes) throw senseless('hexadecimal digits', asText(text));
      return bytes;
    },
  },
  ceildiv: {
    least: 2,
    most: 2,
    about: 'division rounded up',
    run: (_context, [value, unit]) => roundUp(value, unit) / asCount(unit),
  },
  roundup: {
    least: 2,
    most: 2,
    about: 'the next multiple of a unit',
    run: (_context, [value, unit]) => roundUp(value, unit),
  },
  min: { least: 1, most: 16, about: 'the smallest', run: (_context, args) => extreme(args, true) },
  max: { least: 1, most: 16, about: 'the largest', run: (_context, args) => extreme(args, false) },
  exists: {
    least: 1,
    most: 1,
    about: 'whether there is such a thing',
    run: (_context, [of]) => of !== undefined,
  },
  lower: {
    least: 1,
    most: 1,
    about: 'a text in lower case',
    run: (_context, [text]) => asText(text).toLowerCase(),
  },
  text: {
    least: 1,
    most: 1,
    about: 'a number as decimal text',
    run: (_context, [value]) => asInteger(value).toString(),
  },
};

for (const name of hashes.names()) {
  const hash = hashes.get(name)!;
  table[name] = {
    least: 1,
    most: 1,
    about: hash.about,
    run(context, [of]) {
      const ref = bytesOf(of, context) as PlainRef;
      const value = ref.known?.get(name) ?? hashOf(hash, ref, context.primitives);
      return typeof value === 'bigint' ? canonical(value) : value;
    },
  };
}

/** Every function that an expression may call, but `if`, which does not look at both branches. */
export const functions: ReadonlyMap<string, ScriptFunction> = new Map(Object.entries(table));
