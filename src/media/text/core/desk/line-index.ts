import type { LineId } from './desk-line';

interface OfTable {
  readonly first: Map<string, number>;
  /** Namesakes, by key and number among them. */
  readonly more: Map<string, number>;
}

/** Numbers of lines by what tells them apart. */
export class LineIndex {
  private readonly tables = new Map<string, OfTable>();

  constructor(lines: Iterable<LineId> = []) {
    let number = 0;
    for (const line of lines) this.set(line, number++);
  }

  get({ place, key, nth }: LineId): number | undefined {
    const own = this.tables.get(place);
    return nth === 0 ? own?.first.get(key) : own?.more.get(`${nth}\0${key}`);
  }

  has(line: LineId): boolean {
    return this.get(line) !== undefined;
  }

  set({ place, key, nth }: LineId, number: number): void {
    let own = this.tables.get(place);
    if (!own) this.tables.set(place, (own = { first: new Map(), more: new Map() }));
    if (nth === 0) own.first.set(key, number);
    else own.more.set(`${nth}\0${key}`, number);
  }
}
