import type { Value } from './values';

/** Values in order that are made when they are asked for: rows of a table, or several lists as one. */
export abstract class ItemList {
  readonly sort = 'list';
  abstract readonly length: number;
  abstract at(index: number): Value;

  *[Symbol.iterator](): Iterator<Value> {
    for (let i = 0; i < this.length; i++) yield this.at(i);
  }
}

export type Items = readonly Value[] | ItemList;

export const isItems = (value: unknown): value is Items => Array.isArray(value) || value instanceof ItemList;

/** Several lists one after the other. */
export class JoinedItems extends ItemList {
  readonly length: number;
  private readonly starts: number[] = [];

  constructor(readonly parts: readonly Items[]) {
    super();
    let length = 0;
    for (const part of parts) {
      this.starts.push(length);
      length += part.length;
    }
    this.length = length;
  }

  at(index: number): Value {
    if (!(index >= 0 && index < this.length)) return undefined;
    let low = 0;
    let high = this.starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.starts[middle]! <= index) low = middle;
      else high = middle - 1;
    }
    return this.parts[low]!.at(index - this.starts[low]!);
  }
}

/** Some of a list, from one number to before another. */
export class SlicedItems extends ItemList {
  readonly length: number;

  constructor(
    readonly of: Items,
    readonly from: number,
    to: number,
  ) {
    super();
    this.length = Math.max(0, to - from);
  }

  at(index: number): Value {
    return index >= 0 && index < this.length ? this.of.at(this.from + index) : undefined;
  }
}
