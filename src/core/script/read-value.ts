import { equalBytes, FormatError, ReadAhead, refOfSpan, type BytesRef } from '../bytes';
import type { Budget } from './budget';
import { readDigits } from './digits';
import type { Evaluation } from './evaluation';
import { absolute, fieldPath, located, type RecordNode, type Space } from './model';
import { decodeText, encodeText, plainAscii, readText, unitLength, type TextEncoding } from './texts';
import { isRest, type Rest } from './rest';
import type { ByteOrder, Compiled, FieldShape, FieldType } from './types';
import { asCount, type Value } from './values';
import { MOST_VARIABLE_BYTES, type VariableInteger } from './variable-integers';

/** A terminated text longer than this is taken for junk. */
const MOST_TEXT_BYTES = 1 << 16;
/** Bytes up to this length become a value; longer ones stay where they are. */
const MOST_HELD_BYTES = 4096;
const WINDOW_BYTES = 1 << 16;
/** So large where records lie far from each other. */
const LEAST_WINDOW_BYTES = 1 << 11;
const MOST_SHARED_BYTES = 16;
const MOST_SHARED = 4096;

export interface Found {
  readonly value: Value;
  readonly length: number;
}

/** Where a value begins and must end. */
export interface ValuePlace {
  readonly space: Space;
  readonly at: number;
  readonly end: number;
  path(): string;
}

/** Reads values that are no records, through a window, so that a field costs no call into the source. */
export class ValueReader {
  private readonly readAhead = new ReadAhead(LEAST_WINDOW_BYTES, WINDOW_BYTES);
  private window: Uint8Array = new Uint8Array(0);
  private windowView: DataView = new DataView(new ArrayBuffer(0));
  private windowSpace: Space | undefined;
  private windowStart = 0;
  private windowEnd = 0;

  constructor(
    private readonly context: Evaluation,
    private readonly budget: Budget,
  ) {}

  isLittle(order: ByteOrder, node: RecordNode | undefined): boolean {
    return order === 'ruled' ? this.context.isLittle(node) : order === 'little';
  }

  read(field: FieldType, shape: FieldShape, node: RecordNode, place: ValuePlace): Found {
    switch (shape.sort) {
      case 'scalar': {
        const { scalar, order } = shape;
        const at = this.need(place, scalar.size);
        const value = scalar.read(this.windowView, at, this.isLittle(order, node));
        return { value, length: scalar.size };
      }
      case 'variable':
        return this.readVariable(shape.integer, place);
      case 'digits': {
        const size = this.count(shape.digits.size, node, place);
        const bytes = this.view(place, size);
        const value = this.shared(bytes, shape.digits.base, () =>
          this.located(place, () => readDigits(bytes, shape.digits.base)),
        );
        return { value, length: size };
      }
      case 'ended text':
        return this.readEnded(shape.encoding, shape.end, place);
      case 'counted text':
        return this.readCounted(shape, node, place);
      case 'padding':
        return this.readPadding(shape, node, place);
      case 'bytes':
        return this.readBytes(field, shape, node, place);
      case 'text': {
        const size = this.sizeOf(shape.size, node, place);
        this.budget.spendBytes(size);
        const bytes = this.view(place, size);
        const value = this.located(place, () => readText(bytes, shape.encoding, shape.fill));
        return { value, length: size };
      }
      default:
        return { value: undefined, length: 0 };
    }
  }

  short(space: Space, at: number, end: number, wanted: number, path: string): FormatError {
    return new FormatError('truncated', {
      fieldPath: path,
      ...located(space, at),
      expected: `${wanted} bytes`,
      actual: `${Math.max(0, end - at)} left${space.within ? ` in ${space.within}` : ''}`,
      remedy: 'The file may be cut short, or a size before this field is wrong',
    });
  }

  private count(of: Compiled, node: RecordNode, place: ValuePlace): number {
    return this.located(place, () => asCount(of.run(this.context, node)));
  }

  private located<T>(place: ValuePlace, work: () => T): T {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw error.with({ fieldPath: place.path(), ...located(place.space, place.at) });
    }
  }

  /** The bytes up to an end, without those that are left for what follows. */
  left({ lessBytes }: Rest, space: Space, at: number, end: number, path: () => string): number {
    if (end - at < lessBytes) throw this.short(space, at, end, lessBytes, path());
    return end - at - lessBytes;
  }

  private sizeOf(size: Compiled | Rest, node: RecordNode, place: ValuePlace): number {
    const wanted = isRest(size)
      ? this.left(size, place.space, place.at, place.end, place.path)
      : this.count(size, node, place);
    if (place.at + wanted > place.end)
      throw this.short(place.space, place.at, place.end, wanted, place.path());
    return wanted;
  }

  /** The number in a field; the same as `read`, without anything made on the way. */
  number(
    field: FieldType,
    { scalar, order }: FieldShape & { sort: 'scalar' },
    node: RecordNode,
    at: number,
    end: number,
  ): Value {
    const { space } = node;
    if (at + scalar.size > end) throw this.short(space, at, end, scalar.size, fieldPath(node, field.index));
    const from = this.windowed(space, at, scalar.size);
    return scalar.read(this.windowView, from, this.isLittle(order, node));
  }

  /** Makes sure that the window holds so many bytes and returns where in it they begin. */
  private need(place: ValuePlace, length: number, from = place.at): number {
    const { space, end } = place;
    if (from + length > end) throw this.short(space, from, end, length, place.path());
    return this.windowed(space, from, length);
  }

  private windowed(space: Space, from: number, length: number): number {
    if (space !== this.windowSpace || from < this.windowStart || from + length > this.windowEnd) {
      const size = this.readAhead.from(from, length, space.source.length);
      this.window = space.source.read(from, size).slice();
      this.windowView = new DataView(this.window.buffer, this.window.byteOffset, this.window.length);
      this.windowSpace = space;
      this.windowStart = from;
      this.windowEnd = from + size;
    }
    return from - this.windowStart;
  }

  /** Bytes that must be there; good until the next are asked for. */
  private view(place: ValuePlace, length: number): Uint8Array {
    const at = this.need(place, length);
    return this.window.subarray(at, at + length);
  }

  /** A copy of bytes that must be there. */
  private bytes(place: ValuePlace, length: number): Uint8Array {
    const at = this.need(place, length);
    return this.window.slice(at, at + length);
  }

  private readVariable(integer: VariableInteger, place: ValuePlace): Found {
    const most = Math.min(MOST_VARIABLE_BYTES, place.end - place.at);
    const at = this.need(place, Math.max(0, most));
    const found = integer.read(this.window.subarray(at, at + most));
    if (!found)
      throw new FormatError('truncated', {
        fieldPath: place.path(),
        ...located(place.space, place.at),
        expected: `a ${integer.name} that ends within ${most} bytes`,
        actual: 'none',
      });
    const raw = this.window.slice(at, at + found.length);
    const isShortest = equalBytes(integer.write(found.value), raw);
    return {
      value: isShortest ? found.value : { sort: 'number', value: found.value, raw },
      length: found.length,
    };
  }

  private readEnded(encoding: TextEncoding, end: number, place: ValuePlace): Found {
    const unit = unitLength(encoding);
    const limit = Math.min(place.end, place.at + MOST_TEXT_BYTES);
    for (let stop = place.at; stop + unit <= limit; stop += unit) {
      const where = this.need(place, unit, stop);
      const [low, high] = encoding === 'utf-16be' ? [1, 0] : [0, 1];
      const isEnd =
        this.window[where + (unit === 1 ? 0 : low)] === end &&
        (unit === 1 || this.window[where + high] === 0);
      if (!isEnd) continue;
      const bytes = place.space.source.read(place.at, stop - place.at).slice();
      const value = this.located(place, () => keptText(bytes, encoding));
      return { value, length: stop + unit - place.at };
    }
    throw new FormatError('truncated', {
      fieldPath: place.path(),
      ...located(place.space, place.at),
      expected: `a ${end === 0 ? 'zero' : `byte ${end}`} that ends the text within ${limit - place.at} bytes`,
      actual: 'none',
    });
  }

  private readCounted(
    shape: FieldShape & { sort: 'counted text' },
    node: RecordNode,
    place: ValuePlace,
  ): Found {
    const { scalar, order, encoding } = shape;
    const at = this.need(place, scalar.size);
    const count = Number(scalar.read(this.windowView, at, this.isLittle(order, node)));
    const size = count * unitLength(encoding);
    const behind = { ...place, at: place.at + scalar.size, path: place.path };
    if (size > behind.end - behind.at)
      throw this.short(place.space, behind.at, place.end, size, place.path());
    const bytes = this.bytes(behind, size);
    return { value: this.located(place, () => keptText(bytes, encoding)), length: scalar.size + size };
  }

  private readPadding(shape: FieldShape & { sort: 'padding' }, node: RecordNode, place: ValuePlace): Found {
    const from = absolute(place.space, place.at);
    let size: number;
    if (shape.size) size = this.count(shape.size, node, place);
    else {
      const unit = this.count(shape.align!, node, place);
      size = unit > 0 ? (unit - (from % unit)) % unit : 0;
      // The last one of a file or region may be left off, but not cut short.
      if (place.at === place.end) size = 0;
    }
    if (place.at + size > place.end) throw this.short(place.space, place.at, place.end, size, place.path());
    if (size > MOST_HELD_BYTES) return { value: refOfSpan(place.space.source, place.at, size), length: size };
    const bytes = this.view(place, size);
    for (let i = 0; i < size; i++) if (bytes[i] !== shape.fill) return { value: bytes.slice(), length: size };
    return { value: undefined, length: size };
  }

  private readBytes(
    field: FieldType,
    shape: FieldShape & { sort: 'bytes' },
    node: RecordNode,
    place: ValuePlace,
  ): Found {
    const size = this.sizeOf(shape.size, node, place);
    if (size > MOST_HELD_BYTES || field.isPayload)
      return { value: refOfSpan(place.space.source, place.at, size) as BytesRef, length: size };
    this.budget.spendBytes(size);
    const bytes = this.view(place, size);
    return { value: this.shared(bytes, 0, () => bytes.slice()), length: size };
  }

  private readonly known = new Map<string, Value>();

  /** Few bytes mostly say the same in every record, so that what they say is kept once. Nobody changes a value in place. */
  private shared<T extends Value>(bytes: Uint8Array, sort: number, make: () => T): T {
    if (bytes.length > MOST_SHARED_BYTES) return make();
    let key = String.fromCharCode(sort);
    for (let i = 0; i < bytes.length; i++) key += String.fromCharCode(bytes[i]!);
    const known = this.known.get(key);
    if (known !== undefined) return known as T;
    if (this.known.size >= MOST_SHARED) this.known.clear();
    const made = make();
    this.known.set(key, made);
    return made;
  }
}

/** A text of all the bytes, kept with them where encoding it would give others. */
function keptText(bytes: Uint8Array, encoding: TextEncoding): Value {
  const simple = plainAscii(bytes, encoding);
  if (simple !== undefined) return simple;
  const text = decodeText(bytes, encoding);
  return equalBytes(encodeText(text, encoding), bytes) ? text : { sort: 'text', text, raw: bytes };
}
