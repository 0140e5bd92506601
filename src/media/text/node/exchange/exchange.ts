import { FormatError } from '@/core/bytes';
import type { BroughtLine } from '../../core/desk';

/** Forms in which lines go out for translation and come back. */
export const EXCHANGE_FORMS = ['csv', 'xlsx', 'po', 'xliff 1.2', 'xliff 2', 'json'] as const;
export type ExchangeForm = (typeof EXCHANGE_FORMS)[number];

/** A line as it goes out. */
export interface GivenLine {
  readonly place: string;
  readonly key: string;
  readonly nth: number;
  readonly source: string;
  readonly target: string;
  readonly note: string;
  readonly limit: string;
}

/** Languages of a file, by code and name. */
export interface ExchangeTongues {
  readonly source: { readonly code: string; readonly name: string };
  readonly target: { readonly code: string; readonly name: string };
}

/** What a file holds. */
export interface ReadLines {
  readonly form: ExchangeForm;
  readonly lines: readonly BroughtLine[];
  /** What is to be known of it before it is taken. */
  readonly warnings: readonly string[];
}

/** Lines of one file at most. */
export const MOST_LINES = 1_000_000;

/** Signs that XML 1.0 has not. */
const NOT_XML = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/;

/** Refuses a line that no file of XML can hold. */
export function refuseNotXml({ place, key, source, target }: GivenLine): void {
  if (NOT_XML.test(source) || NOT_XML.test(target) || NOT_XML.test(key))
    throw new FormatError('does-not-fit', {
      ...{ fieldPath: `${place}, ${key}`, expected: 'signs that XML has', actual: 'a control sign' },
      remedy: 'Take it out as CSV, PO or JSON',
    });
}
