import type { Catalogue } from './catalogue';
import { lineStart, nameStart } from './lines';

const lower = (sign: number): number => (sign >= 65 && sign <= 90 ? sign + 32 : sign);

/** Paths and names to be looked up in any case (of ASCII letters), for lists that come from elsewhere. */
export class AnyCaseIndex {
  private readonly paths: Int32Array;
  private readonly names: Int32Array;
  /** For each row the next one with the same name's hash. */
  private readonly nextName: Int32Array;
  private readonly mask: number;

  constructor(private readonly catalogue: Catalogue) {
    const { count, wins, search } = catalogue;
    const length = 2 ** Math.ceil(Math.log2(2 * count + 2));
    this.mask = length - 1;
    this.paths = new Int32Array(length).fill(-1);
    this.names = new Int32Array(length).fill(-1);
    this.nextName = new Int32Array(count).fill(-1);
    for (let row = count - 1; row >= 0; row--) {
      if (wins[row] !== 1) continue;
      let slot = this.hash(search.lines, lineStart(search, row), search.ends[row]!);
      while (this.paths[slot]! >= 0) slot = (slot + 1) & this.mask;
      this.paths[slot] = row;
      const name = this.hash(search.lines, nameStart(search, row), search.ends[row]!);
      this.nextName[row] = this.names[name]!;
      this.names[name] = row;
    }
  }

  /** The path as the catalogue spells it; one in just this case before others. */
  find(path: string): string | undefined {
    const wanted = path.toLowerCase();
    let found: string | undefined;
    const bytes = new TextEncoder().encode(path);
    for (let slot = this.hash(bytes, 0, bytes.length); ; slot = (slot + 1) & this.mask) {
      const row = this.paths[slot]!;
      if (row < 0) return found;
      const spelled = this.catalogue.path(row);
      if (spelled === path) return spelled;
      if (spelled.toLowerCase() === wanted) found ??= spelled;
    }
  }

  /** Paths whose last step is this name in any case. */
  named(name: string, most: number): string[] {
    const wanted = name.toLowerCase();
    const bytes = new TextEncoder().encode(name);
    const found: string[] = [];
    let row = this.names[this.hash(bytes, 0, bytes.length)]!;
    for (; row >= 0 && found.length < most; row = this.nextName[row]!) {
      const path = this.catalogue.path(row);
      if (path.slice(path.lastIndexOf('/') + 1).toLowerCase() === wanted) found.push(path);
    }
    return found;
  }

  private hash(bytes: Uint8Array, from: number, to: number): number {
    let hash = 0x811c9dc5;
    for (let at = from; at < to; at++) hash = Math.imul(hash ^ lower(bytes[at]!), 0x01000193);
    return ((hash ^ (hash >>> 15)) >>> 0) & this.mask;
  }
}
