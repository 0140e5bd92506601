import { idOf, type LineId } from './desk-line';

/** A line as it comes out of a file that was given out for translation. */
export interface BroughtLine {
  /** Empty where the file does not say. */
  readonly place: string;
  readonly key: string;
  readonly nth: number;
  readonly source: string | undefined;
  readonly target: string;
  /** What stood for the text when the file was made. */
  readonly mark: string | undefined;
}

/** A line here that one of a file may be. */
export interface KnownLine extends LineId {
  readonly source: string | undefined;
  readonly text: string;
}

export interface TextTaken extends LineId {
  readonly source: string;
  readonly now: string;
  readonly text: string;
}

/** What a file would change. */
export interface BroughtBack {
  readonly changed: readonly TextTaken[];
  /** Changed in the file and meanwhile here as well. */
  readonly conflicts: readonly TextTaken[];
  readonly same: number;
  readonly empty: number;
  /** Keys of lines that are not known here. */
  readonly unknown: readonly string[];
  /** Lines here that the file has not. */
  readonly missing: number;
  /** Lines that the file says more than once; the last counts. */
  readonly twice: number;
  /** Of those that are known, how many have another source text in the file. */
  readonly otherSource: number;
}

/** A short mark of a text (FNV-1a, 64 bits as two of 32), so that a change of it is told. */
export function markOf(text: string): string {
  let [low, high] = [0x811c9dc5, 0x01000193];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    low = Math.imul(low ^ code, 0x01000193) >>> 0;
    high = Math.imul(high ^ (code + i), 0x01000193) >>> 0;
  }
  return low.toString(16).padStart(8, '0') + high.toString(16).padStart(8, '0');
}

/** Holds the lines of a file against those here: by table and key, else by the key where only one line has it. */
export function broughtBack(brought: readonly BroughtLine[], known: readonly KnownLine[]): BroughtBack {
  const byId = new Map(known.map((line) => [idOf(line), line]));
  const byKey = new Map<string, KnownLine | undefined>();
  for (const line of known) byKey.set(line.key, byKey.has(line.key) ? undefined : line);
  const changed: TextTaken[] = [];
  const conflicts: TextTaken[] = [];
  const unknown: string[] = [];
  const seen = new Set<string>();
  let [same, empty, otherSource] = [0, 0, 0];
  const told = new Map<string, BroughtLine>();
  for (const one of brought) told.set(idOf(one), one);
  for (const one of told.values()) {
    const line = byId.get(idOf(one)) ?? (one.place === '' ? byKey.get(one.key) : undefined);
    if (!line) {
      unknown.push(one.key);
      continue;
    }
    seen.add(idOf(line));
    if (one.source !== undefined && one.source !== (line.source ?? '')) otherSource++;
    if (one.target === line.text) same++;
    else if (one.target === '') empty++;
    else {
      const { place, key, nth } = line;
      const taken = { place, key, nth, source: line.source ?? '', now: line.text, text: one.target };
      const isUntouched = one.mark !== undefined && one.mark === markOf(one.target);
      // What nobody touched in the file is not put back over what was done here.
      if (isUntouched) same++;
      else if (one.mark !== undefined && one.mark !== markOf(line.text)) conflicts.push(taken);
      else changed.push(taken);
    }
  }
  const twice = brought.length - told.size;
  return { changed, conflicts, same, empty, unknown, twice, otherSource, missing: known.length - seen.size };
}
