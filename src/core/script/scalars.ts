import { FormatError } from '../bytes';
import { Registry } from '../registry';
import { asInteger, canonical, describeValue, senseless, type Value } from './values';

/** A number of fixed size. Both functions work on a view that holds all `size` bytes at `at`. */
export interface Scalar {
  readonly name: string;
  readonly size: number;
  read(view: DataView, at: number, little: boolean): number | bigint;
  /** Throws FormatError `does-not-fit` rather than wrap. */
  write(view: DataView, at: number, value: Value, little: boolean): void;
}

/** Writers of numbers that are known to fit; the pattern of a negative one comes out by itself. */
const NARROW: ReadonlyMap<number, (view: DataView, at: number, value: number, little: boolean) => void> =
  new Map([
    [8, (v, at, value) => v.setUint8(at, value)],
    [16, (v, at, value, le) => v.setUint16(at, value, le)],
    [32, (v, at, value, le) => v.setUint32(at, value, le)],
  ]);

function whole(bits: number, signed: boolean): Scalar {
  const name = `${signed ? 'i' : 'u'}${bits}`;
  const size = bits / 8;
  const least = signed ? -(1n << BigInt(bits - 1)) : 0n;
  const most = (1n << BigInt(signed ? bits - 1 : bits)) - 1n;
  const [lowest, highest] = [Number(least), Number(most)];
  const narrow = NARROW.get(bits);
  return {
    name,
    size,
    read: reader(bits, signed),
    write(view, at, value, little) {
      if (narrow && typeof value === 'number' && Number.isInteger(value)) {
        if (value >= lowest && value <= highest) return narrow(view, at, value, little);
      }
      const wide = BigInt(asInteger(value));
      if (wide < least || wide > most)
        throw new FormatError('does-not-fit', {
          expected: `${least} to ${most} (${name})`,
          actual: describeValue(value),
        });
      const pattern = BigInt.asUintN(bits, wide);
      for (let i = 0; i < size; i++)
        view.setUint8(at + (little ? i : size - 1 - i), Number((pattern >> BigInt(8 * i)) & 0xffn));
    },
  };
}

function reader(bits: number, signed: boolean): Scalar['read'] {
  if (bits === 8) return signed ? (v, at) => v.getInt8(at) : (v, at) => v.getUint8(at);
  if (bits === 16) return signed ? (v, at, le) => v.getInt16(at, le) : (v, at, le) => v.getUint16(at, le);
  if (bits === 24)
    return (v, at, le) => {
      const value = le
        ? v.getUint8(at) | (v.getUint16(at + 1, true) << 8)
        : (v.getUint16(at) << 8) | v.getUint8(at + 2);
      return signed && value & 0x800000 ? value - 0x1000000 : value;
    };
  if (bits === 32) return signed ? (v, at, le) => v.getInt32(at, le) : (v, at, le) => v.getUint32(at, le);
  return (v, at, le) => {
    const high = signed ? v.getInt32(le ? at + 4 : at, le) : v.getUint32(le ? at + 4 : at, le);
    const low = v.getUint32(le ? at : at + 4, le);
    // Safe values need no bigint, and most sizes and offsets are safe.
    if (high >= -0x200000 && high < 0x200000) {
      const value = high * 0x1_0000_0000 + low;
      if (Number.isSafeInteger(value)) return value;
    }
    return canonical((BigInt(high) << 32n) | BigInt(low));
  };
}

function float(bits: 32 | 64): Scalar {
  return {
    name: `f${bits}`,
    size: bits / 8,
    read: bits === 32 ? (v, at, le) => v.getFloat32(at, le) : (v, at, le) => v.getFloat64(at, le),
    write(view, at, value, little) {
      if (typeof value !== 'number') throw senseless('a number', describeValue(value));
      if (bits === 32) view.setFloat32(at, value, little);
      else view.setFloat64(at, value, little);
    },
  };
}

/** Every number type that a field may have. */
export const scalars = new Registry<Scalar>('number type', [
  ...[8, 16, 24, 32, 64].flatMap((bits) => [whole(bits, false), whole(bits, true)]),
  float(32),
  float(64),
]);
