/** What an entry is for its user. */
export const KINDS = [
  ...['picture', 'sound', 'film', 'model', 'text', 'font', 'table'],
  ...['archive', 'program', 'data'],
] as const;
export type Kind = (typeof KINDS)[number];

/** How kinds are written into catalogues. A number stays with its kind for ever, whatever order or company `KINDS` has; 0 is none. */
const CODES: Readonly<Record<Kind, number>> = {
  picture: 1,
  sound: 2,
  film: 3,
  model: 4,
  text: 5,
  archive: 6,
  program: 7,
  data: 8,
  font: 9,
  table: 10,
};

/** One more than the highest code, for counts by code. */
export const KIND_CODES = 1 + Math.max(...Object.values(CODES));

const BY_CODE: readonly (Kind | undefined)[] = Array.from({ length: KIND_CODES }, (_, code) =>
  KINDS.find((kind) => CODES[kind] === code),
);

export const codeOfKind = (kind: Kind): number => CODES[kind];

/** The kind with a code; `data` for a code that no kind has. */
export const kindOfCode = (code: number): Kind => BY_CODE[code] ?? 'data';

/** Counts by code as counts by kind. */
export const countsByKind = (counts: ArrayLike<number>): Record<Kind, number> =>
  Object.fromEntries(KINDS.map((kind) => [kind, counts[CODES[kind]] ?? 0])) as Record<Kind, number>;
