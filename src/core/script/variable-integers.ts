import { FormatError } from '../bytes';
import { Registry } from '../registry';
import { asInteger, canonical, describeValue, type Value } from './values';

/** An integer of varying length, seven bits a byte. */
export interface VariableInteger {
  readonly name: string;
  /** `bytes` begins with the number and may be longer; undefined where it does not end within them. */
  read(bytes: Uint8Array): { value: number | bigint; length: number } | undefined;
  write(value: Value): Uint8Array;
}

/** Enough for 64 bits. */
export const MOST_VARIABLE_BYTES = 10;

/** LEB128 (DWARF 5, section 7.6): lowest seven bits first, the highest bit set while more follow. */
function leb128(name: string, signed: boolean): VariableInteger {
  return {
    name,
    read(bytes) {
      let value = 0n;
      for (let i = 0; i < Math.min(bytes.length, MOST_VARIABLE_BYTES); i++) {
        value |= BigInt(bytes[i]! & 0x7f) << BigInt(7 * i);
        if (bytes[i]! & 0x80) continue;
        const bits = 7 * (i + 1);
        return { value: canonical(signed ? BigInt.asIntN(bits, value) : value), length: i + 1 };
      }
      return undefined;
    },
    write(value) {
      let rest = BigInt(asInteger(value));
      if (!signed && rest < 0n) throw negative(name, value);
      const out: number[] = [];
      for (;;) {
        const byte = Number(rest & 0x7fn);
        rest >>= 7n;
        const last = signed ? (rest === 0n && byte < 0x40) || (rest === -1n && byte >= 0x40) : rest === 0n;
        out.push(last ? byte : byte | 0x80);
        if (last) return Uint8Array.from(out);
      }
    },
  };
}

function negative(name: string, value: Value): FormatError {
  return new FormatError('does-not-fit', { expected: `0 or more (${name})`, actual: describeValue(value) });
}

/** Variable-length quantity (Standard MIDI Files 1.0): highest seven bits first. */
const vlq: VariableInteger = {
  name: 'vlq',
  read(bytes) {
    let value = 0n;
    for (let i = 0; i < Math.min(bytes.length, MOST_VARIABLE_BYTES); i++) {
      value = (value << 7n) | BigInt(bytes[i]! & 0x7f);
      if (!(bytes[i]! & 0x80)) return { value: canonical(value), length: i + 1 };
    }
    return undefined;
  },
  write(value) {
    let rest = BigInt(asInteger(value));
    if (rest < 0n) throw negative('vlq', value);
    const out = [Number(rest & 0x7fn)];
    for (rest >>= 7n; rest > 0n; rest >>= 7n) out.unshift(Number(rest & 0x7fn) | 0x80);
    return Uint8Array.from(out);
  },
};

/** Every integer type of varying length. */
export const variableIntegers = new Registry<VariableInteger>('number type', [
  leb128('uleb', false),
  leb128('sleb', true),
  vlq,
]);
