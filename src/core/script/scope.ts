import { nearest } from '../registry';
import type { KnownNames } from './compile-expression';
import type { Located } from './located';
import type { ByteOrder, Compiled } from './types';

/** Everything that reading a part of a script needs to know of the rest. */
export interface ScriptScope {
  readonly known: KnownNames;
  readonly recordNames: ReadonlySet<string>;
  readonly order: ByteOrder;
  expression(at: Located, text?: string, textOffset?: number): Compiled;
}

export function suggest(word: string, known: Iterable<string>): string | undefined {
  const near = nearest(word, known);
  return near && `Did you mean '${near}'?`;
}

export const optional = (at: Located | undefined, scope: ScriptScope): Compiled | undefined =>
  at && scope.expression(at);

/** One word out of a few. */
export function oneOf<T extends string>(at: Located | undefined, words: readonly T[], fallback: T): T {
  if (!at) return fallback;
  const text = at.text();
  return (
    words.find((word) => word === text) ?? at.fail(words.join(' or '), `'${text}'`, suggest(text, words))
  );
}

/** A byte as a number, or as the one character that it is. */
export function byteValue(at: Located | undefined, fallback: number): number {
  if (!at) return fallback;
  const value = at.scalar();
  if (typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= 255) return value;
  if (typeof value === 'string' && value.length === 1 && value.charCodeAt(0) < 128)
    return value.charCodeAt(0);
  return at.fail('a byte: 0 to 255, or one character', String(value));
}
