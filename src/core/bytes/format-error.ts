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

const HEADLINES: Record<FormatErrorCode, string> = {
  'out-of-range': 'points outside the file',
  truncated: 'the file ends too early',
  'fixed-mismatch': 'is not the value it must be',
  'derived-mismatch': 'does not hold',
  'bad-value': 'has a value that makes no sense',
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

/** The sentence for an error: what, where, why and what to do. */
function describe(code: FormatErrorCode, facts: FormatErrorFacts): string {
  const place = [
    facts.file,
    facts.fieldPath,
    facts.byteOffset === undefined ? undefined : `byte ${facts.byteOffset}`,
    facts.line === undefined ? undefined : `line ${facts.line}, column ${facts.column ?? 1}`,
  ].filter((part) => part !== undefined);
  let text = place.length > 0 ? `${place.join(', ')}: ${HEADLINES[code]}` : HEADLINES[code];
  if (facts.expected !== undefined && facts.actual !== undefined)
    text += ` (expected ${facts.expected}, found ${facts.actual})`;
  else if (facts.expected !== undefined) text += ` (expected ${facts.expected})`;
  else if (facts.actual !== undefined) text += ` (found ${facts.actual})`;
  if (facts.why) text += `; ${facts.why}`;
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
