import { FormatError } from '../bytes';
import type { FieldShape } from './types';
import { asInteger, canonical, describeValue, type Value } from './values';

type Bits = Extract<FieldShape, { sort: 'bits' }>;
type Scalar = Extract<FieldShape, { sort: 'scalar' }>;

/** A pattern of bits with a part of it being another number. Throws FormatError `does-not-fit` for one that is too wide. */
export function putBits(
  pattern: bigint,
  { from, width, signed }: Bits,
  value: Value,
  fieldPath: string,
): bigint {
  const number = BigInt(asInteger(value));
  const fits = signed ? BigInt.asIntN(width, number) === number : BigInt.asUintN(width, number) === number;
  if (!fits)
    throw new FormatError('does-not-fit', {
      fieldPath,
      expected: `a ${signed ? 'signed ' : ''}number of ${width} bits`,
      actual: describeValue(canonical(number)),
    });
  const mask = ((1n << BigInt(width)) - 1n) << BigInt(from);
  return (pattern & ~mask) | (BigInt.asUintN(width, number) << BigInt(from));
}

/** A pattern of bits as the number that it is in its field. */
export function numberOfBits(pattern: bigint, { scalar }: Scalar): Value {
  const bits = 8 * scalar.size;
  return canonical(
    scalar.name.startsWith('i') ? BigInt.asIntN(bits, pattern) : BigInt.asUintN(bits, pattern),
  );
}
