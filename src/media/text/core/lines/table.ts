import { FormatError } from '@/core/bytes';

/** A text of a table with what the table says of it. */
export interface TableLine {
  /** What the game asks for it by. */
  readonly key: string;
  /** The text in each language of its table; undefined where it has none. */
  readonly texts: readonly (string | undefined)[];
  /** What it is translated from, where its table says that itself. */
  readonly origin?: string | undefined;
  readonly note?: string | undefined;
  readonly speaker?: string | undefined;
  /** How long a text may be, where the table says so. */
  readonly limit?: LengthLimit | undefined;
  /** How wide it may be drawn, and with which font, by its path. */
  readonly width?: number | undefined;
  readonly font?: string | undefined;
}

export interface LengthLimit {
  readonly most: number;
  readonly unit: 'bytes' | 'characters';
}

/** Another text for a line, in one of the languages of its table, by their numbers. */
export interface TextChange {
  readonly line: number;
  readonly tongue: number;
  readonly text: string;
}

/** A line that a table gets. */
export interface AddedLine {
  readonly key: string;
  readonly texts: readonly (string | undefined)[];
}

/** A table of texts, read in one of the forms that are known here. */
export interface LineTable {
  /** What the form is called. */
  readonly form: string;
  /** Languages with a place of their own in it; one without a name where its texts are in one language. */
  readonly tongues: readonly string[];
  readonly lines: readonly TableLine[];
  /** How many bytes a text takes, as the table keeps it, at the place of a line where that matters. Throws FormatError `bad-value` for a sign that its encoding has not. */
  bytesOf(text: string, key?: string): number;
  /** Signs that a text may not have in this form, for each what it is; a text with one of them is not written. */
  readonly forbidden: readonly Forbidden[];
  /** The table with other texts and further lines; whatever else is in it stays byte for byte. Throws FormatError where it cannot say them. */
  write(changes: readonly TextChange[], added?: readonly AddedLine[]): Uint8Array;
  /** The table with a further language, whose texts are told by the number of the line; undefined where its form has no place for one. Throws FormatError where this table has none. */
  readonly withTongue?: (tongue: string, textOf: (line: number) => string) => Uint8Array;
  /** A table of one language as one of another, where it says its language itself; throws FormatError where it has no word for that. */
  readonly inTongue?: (tongue: string, changes: readonly TextChange[]) => Uint8Array;
}

export interface Forbidden {
  readonly sign: string;
  readonly called: string;
}

export const LINE_BREAKS: readonly Forbidden[] = [
  { sign: '\n', called: 'a line break' },
  { sign: '\r', called: 'a line break' },
];

/** Refuses a text that a form cannot hold. */
export function refuseForbidden(key: string, text: string, forbidden: readonly Forbidden[]): void {
  const found = forbidden.find(({ sign }) => text.includes(sign));
  if (found)
    throw new FormatError('does-not-fit', {
      fieldPath: key,
      expected: `a text without ${found.called}`,
      actual: JSON.stringify(text.length > 60 ? `${text.slice(0, 60)} …` : text),
      why: 'the table would be read otherwise',
    });
}

/** A stretch of a text that becomes another. */
export interface Span {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

/** A text with stretches of it replaced; they may not lie over each other. */
export function replaced(text: string, spans: readonly Span[]): string {
  const sorted = [...spans].sort((a, b) => a.from - b.from || a.to - b.to);
  const parts: string[] = [];
  let at = 0;
  for (const { from, to, text: now } of sorted) {
    parts.push(text.slice(at, from), now);
    at = to;
  }
  parts.push(text.slice(at));
  return parts.join('');
}

/** Of several changes of one text the last counts. */
export function lastOfEach(changes: readonly TextChange[]): TextChange[] {
  const found = new Map<string, TextChange>();
  for (const change of changes) found.set(`${change.line} ${change.tongue}`, change);
  return [...found.values()];
}

/** A line, and where in its file the text of it stands. */
export interface PlacedLine {
  readonly line: TableLine;
  readonly from: number;
  readonly to: number;
}

/** The stretches that change with texts of lines of one language, each spelled as its form has it; a text that the form cannot hold is refused. */
export function changedSpans(
  rows: readonly PlacedLine[],
  changes: readonly TextChange[],
  forbidden: readonly Forbidden[],
  spelled: (text: string) => string = (text) => text,
): Span[] {
  return lastOfEach(changes).map(({ line, text }) => {
    const { from, to, line: own } = rows[line]!;
    refuseForbidden(own.key, text, forbidden);
    return { from, to, text: spelled(text) };
  });
}
