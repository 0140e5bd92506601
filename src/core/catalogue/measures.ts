const COUNTED = { '': 1, k: 1e3, m: 1e6 } as const;

/** What is known of an entry only once it was decoded and measured, by the word that a search has for it. */
export const MEASURES = {
  /** Seconds. */
  length: { ms: 0.001, s: 1, '': 1, m: 60, min: 60, h: 3600 },
  /** Loudness in dB below full scale; -Infinity for silence. */
  level: { db: 1, '': 1 },
  /** Samples a second. */
  rate: { hz: 1, '': 1, khz: 1000, k: 1000 },
  channels: { '': 1 },
  triangles: COUNTED,
  vertices: COUNTED,
  bones: COUNTED,
  clips: COUNTED,
} as const satisfies Readonly<Record<string, Readonly<Record<string, number>>>>;

export type Measure = keyof typeof MEASURES;
export const isMeasure = (word: string): word is Measure => Object.hasOwn(MEASURES, word);

/** Those that lists can be put in the order of. */
export const MEASURED_SORTS = ['length', 'level', 'triangles', 'vertices', 'bones', 'clips'] as const;
export type MeasuredSort = (typeof MEASURED_SORTS)[number];
export const isMeasuredSort = (sort: string): sort is MeasuredSort =>
  (MEASURED_SORTS as readonly string[]).includes(sort);

/** Bits of what was found when an entry was measured. */
export const FOUND = { measured: 1, broken: 2, silent: 4, clipped: 8 } as const;
export type FoundWord = Exclude<keyof typeof FOUND, 'measured'>;

/** What is known of the rows of a catalogue. */
export interface Measures {
  /** A number for each row, of the measures that any row has; NaN where it was not measured, or has none. */
  readonly of: { [M in Measure]?: Float64Array };
  /** Bits of FOUND. */
  readonly found: Uint8Array;
}

export const noMeasures = (count: number): Measures => ({ of: {}, found: new Uint8Array(count) });

/** What one entry was measured as. */
export type Measured = { readonly [M in Measure]?: number } & {
  readonly found: number;
  /** What it is like, to be held against others; undefined where it is like nothing. As long for every entry of a kind. */
  readonly print?: Uint8Array | undefined;
};

/** Sets the row of an entry. */
export function noteMeasured({ of, found }: Measures, row: number, one: Measured): void {
  for (const name of Object.keys(MEASURES) as Measure[]) {
    const value = one[name];
    if (value === undefined || Number.isNaN(value)) continue;
    (of[name] ??= new Float64Array(found.length).fill(Number.NaN))[row] = value;
  }
  found[row] = one.found;
}

/** A range that a search asks for, in the units of the measure: `<2s`, `>1.5min`, `1s..3s`, `-20..-12`; undefined where it is none. */
export function measureRange(measure: Measure, text: string): { least: number; most: number } | undefined {
  const found = /^(?:([<>])=?)?(-?\d+(?:\.\d+)?)([a-z]*)(?:\.\.(-?\d+(?:\.\d+)?)([a-z]*))?$/i.exec(text);
  if (!found) return undefined;
  const units: Readonly<Record<string, number>> = MEASURES[measure];
  const valueOf = (number: string, unit: string): number =>
    Number(number) * (units[unit.toLowerCase()] ?? Number.NaN);
  const [, sign, number, unit, upTo, upToUnit] = found;
  const first = valueOf(number!, unit!);
  const last = upTo === undefined ? first : valueOf(upTo, upToUnit!);
  if (Number.isNaN(first) || Number.isNaN(last)) return undefined;
  if (upTo !== undefined) return { least: first, most: last };
  if (sign === '>') return { least: first, most: Number.POSITIVE_INFINITY };
  if (sign === '<') return { least: Number.NEGATIVE_INFINITY, most: first };
  return { least: first, most: first };
}

/** Rows in the order of a measure, those without one behind the others, and how many have one. */
export function measuredOrder(values: Float64Array): { order: Uint32Array; known: number } {
  const known: number[] = [];
  const unknown: number[] = [];
  for (let row = 0; row < values.length; row++) (Number.isNaN(values[row]) ? unknown : known).push(row);
  known.sort((a, b) => values[a]! - values[b]! || a - b);
  return { order: Uint32Array.from([...known, ...unknown]), known: known.length };
}
