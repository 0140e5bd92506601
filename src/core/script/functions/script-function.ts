import { collect, type BytesRef } from '../../bytes';
import type { Evaluation, Placed } from '../evaluation';
import type { RecordNode } from '../model';
import { asRef, describeValue, senseless, type Value } from '../values';

/** One function that an expression may call. */
export interface ScriptFunction {
  readonly least: number;
  readonly most: number;
  /** How it is called, for the reference and for completion. */
  readonly form: string;
  readonly about: string;
  run(context: Evaluation, args: readonly Value[], node: RecordNode | undefined): Value;
}

export type FunctionTable = Readonly<Record<string, ScriptFunction>>;

/** Describes a function in one line; `form` also tells how many arguments it takes, optional ones after `[`. */
export function define(form: string, about: string, run: ScriptFunction['run']): ScriptFunction {
  const inside = form.slice(form.indexOf('(') + 1, form.lastIndexOf(')'));
  const [needed = '', optional] = inside.split('[');
  const count = (part: string): number => part.split(',').filter((word) => /\w/.test(word)).length;
  const least = count(needed);
  const most = inside.includes('...') ? 16 : least + (optional === undefined ? 0 : count(optional));
  return { least, most, form, about, run };
}

/** More than this is never held at once for an expression. */
export const MOST_HELD_BYTES = 16 << 20;

export function sortOf(value: Value): string | undefined {
  return typeof value === 'object' && 'sort' in value ? (value.sort as string) : undefined;
}

export function isPlaced(value: Value): value is Placed {
  const sort = sortOf(value);
  return sort === 'record' || sort === 'region' || sort === 'payload';
}

export function asPlaced(value: Value): Placed {
  if (isPlaced(value)) return value;
  throw senseless('a part, a record, a region or the payload', describeValue(value));
}

export function asRecord(value: Value): RecordNode {
  if (sortOf(value) === 'record') return value as RecordNode;
  throw senseless('a record', describeValue(value));
}

/** Bytes of a thing as it lies, of a text in UTF-8, or of bytes. */
export function bytesOf(value: Value, context: Evaluation): BytesRef {
  return isPlaced(value) ? context.stored(value) : asRef(value);
}

export function held(ref: BytesRef): Uint8Array {
  if (ref.length > MOST_HELD_BYTES) throw senseless(`at most ${MOST_HELD_BYTES} bytes`, `${ref.length}`);
  return collect(ref);
}

export const small = (value: Value, context: Evaluation): Uint8Array => held(bytesOf(value, context));
