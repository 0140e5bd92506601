import { collect, FormatError } from '@/core/bytes';
import { isItems, type RecordNode, type Value } from '@/core/script';
import type { Cell } from './cell';

/** What cells of a table may hold between them: bytes, and items of lists. */
const MOST_BYTES = 64 * 2 ** 20;
const MOST_ITEMS = 20_000_000;
const MOST_DEPTH = 100;

/**
 * Values of a script as cells: texts, numbers, bytes, lists, and records by the names of the fields that they carry. One of these is made for a table, so that all of its cells together are bounded.
 * Throws FormatError `budget` where they hold more than a table may.
 */
export class CellMaker {
  private bytes = 0;
  private items = 0;

  constructor(private readonly file: string) {}

  of(value: Value, depth = 0): Cell {
    if (value === undefined) return null;
    if (typeof value === 'bigint')
      return value <= BigInt(Number.MAX_SAFE_INTEGER) && value >= BigInt(Number.MIN_SAFE_INTEGER)
        ? Number(value)
        : value;
    if (typeof value !== 'object') return value;
    if (depth > MOST_DEPTH) throw this.tooMuch(`${MOST_DEPTH} records within each other`);
    if (value instanceof Uint8Array) return this.held(value.slice());
    if (isItems(value)) return Array.from(value, (one) => this.counted(one, depth));
    if ('chunks' in value) return this.collected(value);
    if (value.sort === 'text') return value.text;
    if (value.sort === 'number') return this.of(value.value);
    if (value.sort === 'record') return this.record(value, depth);
    // A stretch of bytes with something within is what is within.
    return value.sort === 'region' ? this.of(value.content, depth + 1) : null;
  }

  private record(node: RecordNode, depth: number): Cell {
    return new Map(
      node.type.fields.flatMap(({ name, index, role }) =>
        // Counts, sizes and what has to be as it is say nothing more of it.
        role.sort === 'carried' && node.get(index) !== undefined
          ? [[name, this.counted(node.get(index), depth)] as const]
          : [],
      ),
    );
  }

  private counted(value: Value, depth: number): Cell {
    if (++this.items > MOST_ITEMS) throw this.tooMuch(`${MOST_ITEMS} values`);
    return this.of(value, depth + 1);
  }

  private collected(value: Parameters<typeof collect>[0]): Uint8Array {
    if (this.bytes + value.length > MOST_BYTES) throw this.tooMuch(`${MOST_BYTES} bytes`);
    return this.held(collect(value));
  }

  private held(bytes: Uint8Array): Uint8Array {
    this.bytes += bytes.length;
    return bytes;
  }

  private tooMuch(most: string): FormatError {
    return new FormatError('budget', {
      ...{ file: this.file, expected: `at most ${most} in the cells of a table`, actual: 'more' },
      remedy: 'Leave the column that holds them out of the section for tables',
    });
  }
}
