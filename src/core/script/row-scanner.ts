import type { Segment } from './row-segments';
import type { Column } from './table';

/** Where a scan of a block stopped. */
export interface ScanState {
  /** Rows found whole. */
  rows: number;
  /** Where the last of them ends in the block. */
  end: number;
}

/**
 * Goes through rows of a block from its first byte on, `most` at the most, and puts their numbers into the columns from
 * `row` on and where they begin, counted from `base`, into `starts`. Stops before a row that the block cuts or whose length
 * is none, whose numbers may have been written all the same.
 */
export type RowScanner = (
  view: DataView,
  most: number,
  row: number,
  base: number,
  starts: Float64Array | undefined,
  columns: readonly (Column | undefined)[],
  state: ScanState,
) => void;

/**
 * Makes the loop for one shape of row. It is put together as a function's text, since nothing else comes near a loop by
 * hand: a loop over descriptions of fields takes five times as long, and a loop a column twice as long (a million rows
 * of eight fields: 62 ms, 330 ms and 137 ms). The text is made of numbers and of words that stand in this file; nothing
 * that a script spells gets into it.
 */
export function makeScanner(
  segments: readonly Segment[],
  little: readonly boolean[],
  withStarts: boolean,
): RowScanner {
  const arrays: string[] = [];
  const arrayOf = (index: number, part: 'values' | 'high' | 'low'): string => {
    const name = `${part}${whole(index)}`;
    arrays.push(`const ${name} = columns[${whole(index)}].${part};`);
    return name;
  };
  const body: string[] = [];
  segments.forEach((segment, s) => {
    if (s > 0) body.push(`const s${s} = next;`);
    body.push(`next = s${s} + ${whole(segment.fixed)};`, 'if (next > end) break;');
    for (const { index, offset, kind } of segment.numbers) {
      const at = `s${s} + ${whole(offset)}`;
      if (kind === 'u64' || kind === 'i64') {
        const [low, high] = little[index] ? [0, 4] : [4, 0];
        body.push(`${arrayOf(index, 'high')}[r] = view.getUint32(${at} + ${high}, ${!!little[index]});`);
        body.push(`${arrayOf(index, 'low')}[r] = view.getUint32(${at} + ${low}, ${!!little[index]});`);
      } else body.push(`${arrayOf(index, 'values')}[r] = ${read(kind, at, !!little[index])};`);
    }
    const { sized } = segment;
    if (sized) {
      const value = read(sized.kind, `s${whole(sized.segment)} + ${whole(sized.offset)}`, sized.little);
      body.push(`const length${s} = ${value} * ${exact(sized.times)} + ${exact(sized.plus)};`);
      // Also for what is no number.
      body.push(`if (!(length${s} >= 0)) break;`, `next += length${s};`, 'if (next > end) break;');
    } else if (segment.ended >= 0) {
      body.push(
        'text = next;',
        `while (next < end && view.getUint8(next) !== ${whole(segment.ended)}) next++;`,
      );
      body.push('if (next >= end) break;', `${arrayOf(segment.text, 'values')}[r] = next - text;`, 'next++;');
    }
  });
  const text = `
    const end = view.byteLength;
    ${[...new Set(arrays)].join('\n')}
    let count = 0;
    let s = 0;
    let next = 0;
    let text = 0;
    for (; count < most; count++) {
      const r = row + count;
      const s0 = s;
      ${body.join('\n')}
      ${withStarts ? 'starts[r] = base + s0;' : ''}
      s = next;
    }
    state.rows = count;
    state.end = s;`;
  return new Function('view', 'most', 'row', 'base', 'starts', 'columns', 'state', text) as RowScanner;
}

/** An expression for a number at a place. */
function read(kind: string, at: string, little: boolean): string {
  switch (kind) {
    case 'u8':
      return `view.getUint8(${at})`;
    case 'i8':
      return `view.getInt8(${at})`;
    case 'u16':
      return `view.getUint16(${at}, ${little})`;
    case 'i16':
      return `view.getInt16(${at}, ${little})`;
    case 'u24':
      return narrow24(at, little);
    case 'i24':
      return `((${narrow24(at, little)}) << 8 >> 8)`;
    case 'u32':
      return `view.getUint32(${at}, ${little})`;
    case 'i32':
      return `view.getInt32(${at}, ${little})`;
    case 'u64':
      return `Number(view.getBigUint64(${at}, ${little}))`;
    case 'i64':
      return `Number(view.getBigInt64(${at}, ${little}))`;
    case 'f32':
      return `view.getFloat32(${at}, ${little})`;
    case 'f64':
      return `view.getFloat64(${at}, ${little})`;
    default:
      throw new Error(`no way to read a ${kind} in a table`);
  }
}

const narrow24 = (at: string, little: boolean): string =>
  little
    ? `(view.getUint8(${at}) | (view.getUint16(${at} + 1, true) << 8))`
    : `((view.getUint16(${at}, false) << 8) | view.getUint8(${at} + 2))`;

/** The digits of a whole number; what is none never gets into the text. */
function whole(value: number): string {
  if (Number.isSafeInteger(value) && value >= 0) return String(value);
  throw new Error(`${value} is no place in a row`);
}

function exact(value: number): string {
  if (typeof value === 'number') return `(${value})`;
  throw new Error('a number is needed');
}
