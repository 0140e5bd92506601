import { FormatError, fromHalf } from '@/core/bytes';
import type { NumberForm, PlainKind } from './number-forms';

/** One field of the items of a stream. */
export interface StreamField {
  readonly form: NumberForm;
  /** Where it begins in each item. */
  readonly at: number;
  /** What is kept, times this and plus that, is what is meant; one for each number, or one for all. */
  readonly times: readonly number[];
  readonly plus: readonly number[];
  /** Where each number comes from, as wanted by whoever reads: the field's number for each of its own. */
  readonly order?: readonly number[] | undefined;
}

/** Items of equal length, one after the other. */
export interface StreamLayout {
  readonly count: number;
  /** Bytes from one item to the next. */
  readonly stride: number;
  /** Bytes before the first one. */
  readonly first: number;
  readonly isLittle: boolean;
}

/** So that reading an item never leaves the bytes. Throws FormatError. */
export function checkLayout(
  { count, stride, first }: StreamLayout,
  fields: readonly StreamField[],
  length: number,
  facts: { readonly file: string; readonly fieldPath: string },
): void {
  const reach = fields.reduce((most, { at, form }) => Math.max(most, at + form.bytes), 0);
  if (count > 0 && stride < reach)
    throw new FormatError('script-wrong', {
      ...facts,
      expected: `a stride of at least ${reach} bytes, which its fields take`,
      actual: `${stride}`,
    });
  if (first + count * stride > length)
    throw new FormatError('truncated', {
      ...{
        ...facts,
        expected: `${first + count * stride} bytes (${count} of ${stride})`,
        actual: `${length}`,
      },
    });
}

const of = (list: readonly number[], i: number, otherwise: number): number =>
  list.length === 0 ? otherwise : (list[i] ?? list[0]!);

/**
 * Reads a field of all items into numbers, `wanted` for each; those that the field has not are 0, or 1 for the fourth.
 * `bytes` must be at least as long as `checkLayout` asks.
 */
export function readField(
  bytes: Uint8Array,
  layout: StreamLayout,
  field: StreamField,
  wanted: number,
): Float32Array {
  const { count, stride, first, isLittle } = layout;
  const { form, at } = field;
  const out = new Float32Array(count * wanted);
  const numbers = Math.min(wanted, form.numbers);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { plain } = form;
  if (plain) {
    const each = form.bytes / form.numbers;
    for (let i = 0; i < numbers; i++)
      readNumbers(view, {
        ...{ kind: plain.kind, isLittle, from: first + at + each * (field.order?.[i] ?? i), stride, count },
        ...{ out, to: i, step: wanted, least: -plain.high },
        ...{ times: of(field.times, i, 1) / plain.high, plus: of(field.plus, i, 0) },
      });
  } else {
    const one = new Float64Array(Math.max(4, form.numbers));
    for (let item = 0, from = first + at; item < count; item++, from += stride) {
      form.get(view, from, isLittle, one);
      for (let i = 0; i < numbers; i++)
        out[item * wanted + i] = one[field.order?.[i] ?? i]! * of(field.times, i, 1) + of(field.plus, i, 0);
    }
  }
  if (wanted === 4 && numbers < 4) for (let item = 0; item < count; item++) out[4 * item + 3] = 1;
  return out;
}

interface NumbersAsked {
  readonly kind: PlainKind;
  readonly isLittle: boolean;
  readonly from: number;
  readonly stride: number;
  readonly count: number;
  readonly out: Float32Array;
  readonly to: number;
  readonly step: number;
  /** What is lower counts as this. */
  readonly least: number;
  readonly times: number;
  readonly plus: number;
}

/** One number of every item. A loop for each kind: one for all would ask at every number which it is, at five times the time. */
function readNumbers(view: DataView, asked: NumbersAsked): void {
  const { kind, isLittle, from, stride, count, out, step, times, plus } = asked;
  const end = from + count * stride;
  let { to } = asked;
  const least = asked.least === -1 ? -Infinity : asked.least;
  switch (kind) {
    case 'u8':
      for (let at = from; at < end; at += stride, to += step) out[to] = view.getUint8(at) * times + plus;
      return;
    case 'i8':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = Math.max(least, view.getInt8(at)) * times + plus;
      return;
    case 'u16':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = view.getUint16(at, isLittle) * times + plus;
      return;
    case 'i16':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = Math.max(least, view.getInt16(at, isLittle)) * times + plus;
      return;
    case 'u32':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = view.getUint32(at, isLittle) * times + plus;
      return;
    case 'i32':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = view.getInt32(at, isLittle) * times + plus;
      return;
    case 'f32':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = view.getFloat32(at, isLittle) * times + plus;
      return;
    case 'f16':
      for (let at = from; at < end; at += stride, to += step)
        out[to] = fromHalf(view.getUint16(at, isLittle)) * times + plus;
  }
}

/** Writes numbers, `given` for each item, into a field of all items; `bytes` is changed. Throws FormatError where one does not fit. */
export function writeField(
  bytes: Uint8Array,
  layout: StreamLayout,
  field: StreamField,
  values: Float32Array | Uint16Array,
  given: number,
  isKept: (item: number) => boolean,
): void {
  const { count, stride, first, isLittle } = layout;
  const { form, at } = field;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const one = new Float64Array(Math.max(4, form.numbers));
  const numbers = Math.min(given, form.numbers);
  for (let item = 0, to = first + at; item < count; item++, to += stride) {
    if (isKept(item)) continue;
    // What is not given stays as it lies.
    if (numbers < form.numbers) form.get(view, to, isLittle, one);
    for (let i = 0; i < numbers; i++)
      one[field.order?.[i] ?? i] =
        (values[item * given + i]! - of(field.plus, i, 0)) / (of(field.times, i, 1) || 1);
    try {
      form.set(view, to, isLittle, one);
    } catch (error) {
      throw error instanceof FormatError ? error.with({ fieldPath: `[${item}]` }) : error;
    }
  }
}
