import { FormatError, type FormatErrorCode, type FormatErrorFacts } from '@/core/bytes';
import type { Finding, FitState, Mend } from './finding';

/** What is said of a finding. */
export interface Words {
  readonly what: string;
  /** Why the game cares, a clause without a full stop. */
  readonly why: string;
  /** What the press that mends it says, and the one for the other way. */
  readonly mend?: string;
  readonly also?: string;
}

/** The findings of a medium by their codes: what is said of each, from its facts. */
export type Wording = Readonly<Record<string, (facts: never) => Words>>;

/** A finding in words, as it is shown. */
export interface WordedFinding extends Words {
  readonly state: FitState;
  readonly code: string;
  readonly mends: readonly { readonly name: Mend; readonly label: string }[];
}

type FactsOf<F> = F extends (facts: infer G) => Words ? (unknown extends G ? object : G) : never;
type Offers = Pick<Finding, 'mend' | 'also'>;

/**
 * What makes findings of a medium: only codes that its wording has, with the facts that it takes. They have to be values of JSON, since
 * they are kept.
 */
export const findingsOf =
  <T extends Wording>(medium: string) =>
  <C extends keyof T & string>(
    state: FitState,
    code: C,
    facts: FactsOf<T[C]> & object,
    offers: Offers = {},
  ): Finding => ({ state, code: `${medium}.${code}`, facts, ...offers });

/** An error of the core as a finding keeps it. */
export interface ErrorKept {
  readonly code: FormatErrorCode;
  readonly facts: FormatErrorFacts;
}
export const keptError = ({ code, facts }: FormatError): ErrorKept => ({ code, facts });
export const errorSaid = ({ code, facts }: ErrorKept): string => new FormatError(code, facts).message;

/** A finding in words, by the wordings of all media. One that another version found and this one has no words for is shown with its code. */
export function worded(
  { state, code, facts, mend, also }: Finding,
  wordings: Readonly<Record<string, Wording>>,
): WordedFinding {
  const at = code.indexOf('.');
  const say = wordings[code.slice(0, at)]?.[code.slice(at + 1)] as ((facts: object) => Words) | undefined;
  const words: Words = say?.(facts) ?? {
    what: code,
    why: 'Another version of this application found it; look at the change again',
  };
  const offers = [
    [mend, words.mend],
    [also, words.also],
  ] as const;
  return {
    ...words,
    state,
    code,
    mends: offers.flatMap(([name, label]) => (name ? [{ name, label: label ?? name }] : [])),
  };
}
