import type { Cell } from '../cell';
import type { Place } from '../data-table';

/** Another value for what stands at a place of a document. */
export interface CellEdit {
  readonly place: Place;
  readonly value: Cell;
}

/** Places that are looked for, as a tree: what leads to them from here, and the value of the one that is here. */
export interface Wanted {
  readonly below: ReadonlyMap<string, Wanted>;
  readonly edit: CellEdit | undefined;
}

interface Growing {
  readonly below: Map<string, Growing>;
  edit: CellEdit | undefined;
}

/** The places of edits as a tree; of several of one place the last counts. */
export function wantedOf(edits: readonly CellEdit[]): Wanted {
  const root: Growing = { below: new Map(), edit: undefined };
  for (const edit of edits) {
    let at = root;
    for (const step of edit.place) {
      const key = String(step);
      let next = at.below.get(key);
      if (!next) at.below.set(key, (next = { below: new Map(), edit: undefined }));
      at = next;
    }
    at.edit = edit;
  }
  return root;
}

/** A stretch of bytes that holds the value of an edit. */
export interface ValueSpan {
  readonly from: number;
  readonly to: number;
  readonly edit: CellEdit;
}

/** Bytes with stretches of them replaced; the stretches may not lie over each other. */
export function splice(
  bytes: Uint8Array,
  spans: readonly ValueSpan[],
  spelled: (span: ValueSpan) => Uint8Array,
): Uint8Array {
  const sorted = [...spans].sort((a, b) => a.from - b.from);
  const parts: Uint8Array[] = [];
  let at = 0;
  for (const span of sorted) {
    parts.push(bytes.subarray(at, span.from), spelled(span));
    at = span.to;
  }
  parts.push(bytes.subarray(at));
  const made = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let to = 0;
  for (const part of parts) {
    made.set(part, to);
    to += part.length;
  }
  return made;
}
