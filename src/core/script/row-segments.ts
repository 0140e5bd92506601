import type { FieldPlan } from './table';
import type { RecordType } from './types';

/** Fields of fixed length up to one of varying length: so many bytes, and how the length of that one is told. */
export interface Segment {
  fixed: number;
  readonly numbers: { index: number; offset: number; kind: string }[];
  sized:
    | { kind: string; segment: number; offset: number; little: boolean; times: number; plus: number }
    | undefined;
  /** The byte that ends a text, or -1. */
  ended: number;
  /** Number of that text's field, or -1. */
  text: number;
}

/** Cuts the fields of a row into segments. */
export function segmentsOf(
  type: RecordType,
  plans: readonly FieldPlan[],
  little: readonly boolean[],
): Segment[] {
  const segments: Segment[] = [];
  const places = new Map<number, { segment: number; offset: number; kind: string }>();
  const open = (): Segment => {
    const last = segments.at(-1);
    if (last && !last.sized && last.ended < 0) return last;
    const made: Segment = { fixed: 0, numbers: [], sized: undefined, ended: -1, text: -1 };
    segments.push(made);
    return made;
  };
  for (const field of type.fields) {
    const { shape, index } = field;
    if (shape.sort === 'bits' || shape.sort === 'none') continue;
    const segment = open();
    const { length } = plans[index]!;
    if (shape.sort === 'scalar') {
      const number = { index, offset: segment.fixed, kind: shape.scalar.name };
      segment.numbers.push(number);
      places.set(index, { segment: segments.length - 1, offset: number.offset, kind: number.kind });
      segment.fixed += shape.scalar.size;
    } else if (shape.sort === 'ended text') {
      segment.ended = shape.end;
      segment.text = index;
    } else if (length !== undefined) segment.fixed += length;
    else {
      const { name, times, plus } = (
        shape as { size: { linear: { name: string; times: number; plus: number } } }
      ).size.linear;
      const by = type.byName.get(name)!;
      segment.sized = { ...places.get(by)!, little: little[by]!, times, plus };
    }
  }
  return segments;
}

/** A number that tells a length. */
export function lengthAt(view: DataView, kind: string, at: number, little: boolean): number {
  switch (kind) {
    case 'u8':
      return view.getUint8(at);
    case 'u16':
      return view.getUint16(at, little);
    case 'u32':
      return view.getUint32(at, little);
    case 'u24':
      return narrow24(view, at, little);
    case 'u64':
      return Number(view.getBigUint64(at, little));
    case 'i8':
      return view.getInt8(at);
    case 'i16':
      return view.getInt16(at, little);
    case 'i24':
      return (narrow24(view, at, little) << 8) >> 8;
    case 'i64':
      return Number(view.getBigInt64(at, little));
    case 'f32':
      return view.getFloat32(at, little);
    case 'f64':
      return view.getFloat64(at, little);
    default:
      return view.getInt32(at, little);
  }
}

/** A number of three bytes, without a sign. */
export const narrow24 = (view: DataView, at: number, little: boolean): number =>
  little
    ? view.getUint8(at) | (view.getUint16(at + 1, true) << 8)
    : (view.getUint16(at) << 8) | view.getUint8(at + 2);
