import type { LineTable, TableLine } from '../lines';
import type { DeskLine } from './desk-line';

/** A table, and which of its languages is meant. */
export interface TableColumn {
  readonly table: LineTable;
  readonly column: number;
}

/** Lines of a table by their keys; of namesakes each in its order. */
class ByKey {
  private readonly first = new Map<string, TableLine>();
  private readonly more = new Map<string, TableLine[]>();

  constructor(table: LineTable) {
    for (const line of table.lines) {
      if (!this.first.has(line.key)) this.first.set(line.key, line);
      else {
        const own = this.more.get(line.key);
        if (own) own.push(line);
        else this.more.set(line.key, [line]);
      }
    }
  }

  get(key: string, nth: number): TableLine | undefined {
    return nth === 0 ? this.first.get(key) : this.more.get(key)?.[nth - 1];
  }

  count(key: string): number {
    return (this.first.has(key) ? 1 : 0) + (this.more.get(key)?.length ?? 0);
  }
}

/**
 * The lines of one table in its languages: those of the source in their order, then those that only the language has that is worked on. Lines are one where their key is, and of namesakes their number.
 */
export function sideBySide(
  place: string,
  source: TableColumn | undefined,
  target: TableColumn | undefined,
  others: readonly (TableColumn | undefined)[],
): DeskLine[] {
  const [sources, targets] = [source, target].map((one) => one && new ByKey(one.table));
  const rest = others.map((one) => one && new ByKey(one.table));
  const made: DeskLine[] = [];
  const add = (line: TableLine, nth: number): void => {
    const { key } = line;
    const [own, now] = [sources?.get(key, nth), targets?.get(key, nth)];
    const said = own?.texts[source!.column];
    const count = Math.max(sources?.count(key) ?? 0, targets?.count(key) ?? 0);
    made.push({
      // Spread objects take a hundred times as long to make.
      place,
      key,
      nth,
      // A catalogue says itself what it is translated from.
      source: said || line.origin || said,
      was: now?.texts[target!.column],
      others: rest.map((table, i) => table?.get(key, nth)?.texts[others[i]!.column]),
      speaker: line.speaker ?? '',
      note: line.note ?? '',
      limit: now?.limit ?? line.limit,
      width: now?.width ?? line.width,
      font: now?.font ?? line.font,
      isTwice: count > 1,
    });
  };
  for (const [i, table] of [source?.table, target?.table].entries()) {
    const counts = new Map<string, number>();
    for (const line of table?.lines ?? []) {
      const nth = counts.get(line.key) ?? 0;
      counts.set(line.key, nth + 1);
      if (i === 0 || !sources?.get(line.key, nth)) add(line, nth);
    }
  }
  return made;
}
