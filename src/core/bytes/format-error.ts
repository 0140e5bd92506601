/**
 * The one error of the core: bytes, a script or a value are not what they have to be.
 * It carries facts; `describeFormatError` in wording.ts turns them into a sentence.
 */
export type FormatErrorCode =
  | 'out-of-range'
  | 'truncated'
  | 'fixed-mismatch'
  | 'derived-mismatch'
  | 'bad-value'
  | 'does-not-fit'
  | 'unsafe-path'
  | 'overlap'
  | 'budget'
  | 'codec-failed'
  | 'key-missing'
  | 'key-wrong'
  | 'not-recognised'
  | 'script-wrong'
  | 'part-missing'
  | 'changed-meanwhile'
  | 'taken'
  | 'not-writable'
  | 'would-be-wrong';

export interface FormatErrorFacts {
  /** Dotted path of the field in the script's terms, such as `pages[2].rows[14].place`. */
  fieldPath?: string;
  /** Absolute offset in the file, in bytes. */
  byteOffset?: number;
  /** Where the offset is not one of the file: the region or field whose unsealed content it counts in. */
  within?: string;
  /** The file, as the user knows it. */
  file?: string;
  expected?: string;
  actual?: string;
  /** Why it matters or how it came about, a clause without a full stop. */
  why?: string;
  /** What to do next, a sentence without a full stop. */
  remedy?: string;
  /** Place in a script's text, both counted from 1. */
  line?: number;
  column?: number;
}

export class FormatError extends Error {
  readonly code: FormatErrorCode;
  readonly facts: FormatErrorFacts;

  constructor(code: FormatErrorCode, facts: FormatErrorFacts) {
    super(describe(code, facts));
    this.name = 'FormatError';
    this.code = code;
    this.facts = facts;
  }

  /** The same error with more facts; facts that are already known stay. */
  with(more: FormatErrorFacts): FormatError {
    return new FormatError(this.code, { ...more, ...defined(this.facts) });
  }
}

function defined(facts: FormatErrorFacts): FormatErrorFacts {
  return Object.fromEntries(Object.entries(facts).filter(([, value]) => value !== undefined));
}

const HEADLINES: Record<Exclude<FormatErrorCode, 'bad-value'>, string> = {
  'out-of-range': 'points outside the file',
  truncated: 'the file ends too early',
  'fixed-mismatch': 'is not the value it must be',
  'derived-mismatch': 'does not hold',
  'does-not-fit': 'does not fit into its field',
  'unsafe-path': 'is not a path that may be written',
  overlap: 'is claimed twice',
  budget: 'asks for more than may be used',
  'codec-failed': 'cannot be decoded',
  'key-missing': 'needs a key',
  'key-wrong': 'does not open with this key',
  'not-recognised': 'is not recognised',
  'script-wrong': 'the format script is wrong',
  'part-missing': 'a part is missing',
  'changed-meanwhile': 'has changed meanwhile',
  taken: 'is there already',
  'not-writable': 'cannot be written this way',
  'would-be-wrong': 'would come out wrong, so nothing was written',
};

function saidOf(code: FormatErrorCode, { expected, actual, why }: FormatErrorFacts): string {
  // A value tells best by itself what is wrong with it.
  if (code === 'bad-value') {
    if (expected !== undefined)
      return `has to be ${expected}${actual === undefined ? '' : `, and is ${actual}`}`;
    if (actual !== undefined) return `cannot be ${actual}`;
    return why ?? 'cannot be what it is';
  }
  const headline = HEADLINES[code];
  if (expected !== undefined && actual !== undefined)
    return `${headline} (expected ${expected}, found ${actual})`;
  if (expected !== undefined) return `${headline} (expected ${expected})`;
  return actual === undefined ? headline : `${headline} (found ${actual})`;
}

/** The sentence for an error: what, where, why and what to do. */
function describe(code: FormatErrorCode, facts: FormatErrorFacts): string {
  const place = [
    facts.file,
    facts.fieldPath,
    facts.byteOffset === undefined
      ? undefined
      : `byte ${facts.byteOffset}${facts.within ? ` of what ${facts.within} unseals to` : ''}`,
    facts.line === undefined ? undefined : `line ${facts.line}, column ${facts.column ?? 1}`,
  ].filter((part) => part !== undefined);
  const where = place.length > 0 ? `${place.join(', ')}: ` : '';
  let text = where + saidOf(code, facts);
  if (facts.why && !text.endsWith(facts.why)) text += `; ${facts.why}`;
  if (facts.remedy) text += `. ${facts.remedy}`;
  return /[?!.]$/.test(text) ? text : `${text}.`;
}

/** Runs `work` and adds facts to a FormatError that leaves it. */
export function withFacts<T>(facts: FormatErrorFacts, work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw error instanceof FormatError ? error.with(facts) : error;
  }
}
