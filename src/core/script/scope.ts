import { nearest } from '../registry';
import type { KnownNames } from './compile-expression';
import type { Located } from './located';
import type { Compiled } from './types';

/** Everything that reading a part of a script needs to know of the rest. */
export interface ScriptScope {
  readonly known: KnownNames;
  readonly recordNames: ReadonlySet<string>;
  readonly little: boolean;
  expression(at: Located, text?: string, textOffset?: number): Compiled;
}

export function suggest(word: string, known: Iterable<string>): string | undefined {
  const near = nearest(word, known);
  return near && `Did you mean '${near}'?`;
}
