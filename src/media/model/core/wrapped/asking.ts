import type { Archive } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import {
  asCount,
  asText,
  asTruth,
  bare,
  describeValue,
  flattened,
  isTextual,
  type Compiled,
  type Numbers,
  type RecordNode,
  type Value,
} from '@/core/script';

/** Asks what a script says of the rows of one file. Errors name the file and the word that was asked. */
export class Asking {
  constructor(
    readonly archive: Archive,
    readonly file: string,
  ) {}

  private run<T>(word: string, of: Compiled, row: RecordNode | undefined, take: (value: Value) => T): T {
    try {
      return take(of.run(this.archive.context, row));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw error.with({ file: this.file, fieldPath: `model.${word} of ${row?.path ?? 'the file'}` });
    }
  }

  rows(word: string, of: Compiled): RecordNode[] {
    return this.run(word, of, undefined, (value) =>
      Array.from(flattened(value, this.archive.context), (row) => {
        if (typeof row === 'object' && 'sort' in row && row.sort === 'record') return row;
        throw new FormatError('script-wrong', { expected: 'a list of records', actual: describeValue(row) });
      }),
    );
  }

  count(word: string, of: Compiled, row: RecordNode | undefined): number {
    return this.run(word, of, row, asCount);
  }

  number(word: string, of: Compiled, row: RecordNode | undefined): number {
    return this.run(word, of, row, numberOf);
  }

  text(word: string, of: Compiled | undefined, row: RecordNode | undefined, otherwise: string): string {
    if (!of) return otherwise;
    return this.run(word, of, row, (value) => {
      if (isTextual(value)) return asText(value).replaceAll('\0', '');
      const number = bare(value);
      return typeof number === 'number' || typeof number === 'bigint' ? String(number) : asText(value);
    });
  }

  truth(word: string, of: Compiled | undefined, row: RecordNode | undefined, otherwise: boolean): boolean {
    return of ? this.run(word, of, row, asTruth) : otherwise;
  }

  /** So many numbers, or none at all; `atLeast` of them where there may be fewer. */
  numbers(
    word: string,
    of: Numbers,
    row: RecordNode | undefined,
    wanted: number,
    atLeast = wanted,
  ): number[] {
    if (of.length === 0) return [];
    const all = of.flatMap((one) =>
      this.run(word, one, row, (value) => Array.from(flattened(value, this.archive.context), numberOf)),
    );
    if (all.length >= atLeast && all.length <= wanted) return all;
    throw new FormatError('script-wrong', {
      ...{ file: this.file, fieldPath: `model.${word} of ${row?.path ?? 'the file'}` },
      ...{ expected: `${wanted} numbers`, actual: `${all.length}` },
    });
  }
}

function numberOf(value: Value): number {
  const number = bare(value);
  if (typeof number === 'number') return number;
  if (typeof number === 'bigint') return Number(number);
  if (typeof number === 'boolean') return number ? 1 : 0;
  throw new FormatError('bad-value', { expected: 'a number', actual: describeValue(value) });
}
