import type { Archive, Entry } from '../archive';
import { firstDifference, FormatError, withFacts, type BytesRef } from '../bytes';
import { asTruth, resolveSeal, seal, type ResolvedStep } from '../script';
import { sameSteps } from './same-steps';
import type { NewPayload, WriteEvaluation } from './write-evaluation';

/** Seals the new bytes of an entry, plain bytes in, and notes them in `payloads`. */
export function sealChange(
  archive: Archive,
  evaluation: WriteEvaluation,
  payloads: Map<number, NewPayload>,
  index: number,
  plain: BytesRef,
): void {
  const entry = archive.entries[index];
  if (!entry)
    throw new FormatError('bad-value', {
      expected: `an entry below ${archive.entries.length}`,
      actual: `${index}`,
    });
  if (entry.pieces?.length === 0 && plain.length > 0)
    throw new FormatError('does-not-fit', {
      fieldPath: entry.path,
      expected: 'nothing, since the archive has no piece for it',
      actual: `${plain.length} bytes`,
    });
  refuseField(archive, entry, plain);
  withFacts({ fieldPath: entry.path }, () => {
    const payload: NewPayload = { plain, stored: plain, changed: true };
    payloads.set(index, payload);
    if (entry.group.seal.length > 0) Object.assign(payload, sealedFor(evaluation, entry, payload));
  });
}

/** Refuses other bytes for an entry that lies in a field whose bytes are worked out from what is in it: they would not be written. */
function refuseField(archive: Archive, entry: Entry, plain: BytesRef): void {
  const { payload } = entry.group;
  const holder = entry.holder ?? entry.pieces?.[0];
  if (!holder || (payload.sort !== 'field' && payload.sort !== 'pieces')) return;
  const field = holder.type.fields[holder.type.byName.get(payload.field)!];
  if (!field || field.isPayload || firstDifference(archive.plain(entry), plain) === undefined) return;
  throw new FormatError('not-writable', {
    fieldPath: entry.path,
    expected: `${payload.field} as bytes or as a text`,
    actual: field.region ? 'a region' : field.repeat ? 'a list' : field.shape.sort,
    why: 'the bytes of that field follow from what the script says is in it',
    remedy: `Say 'bytes(...)' for ${payload.field} in the script, with its seal at the payload`,
  });
}

type Sealed = Pick<NewPayload, 'stored' | 'blockSizes'>;

/** A key that follows from the stored size is right in the second round. */
const MOST_ROUNDS = 3;

/**
 * Whether a step applies may hang on the stored size, as in formats that store what would not get smaller. So the steps
 * are settled once as for bytes that stay as long as they are and once as for bytes that get shorter. Of the results that
 * reading would take for what they are, the shorter is taken.
 */
function sealedFor(evaluation: WriteEvaluation, entry: Entry, payload: NewPayload): Sealed {
  const { plain } = payload;
  const settleFor = (stored: BytesRef): ResolvedStep[] => {
    payload.stored = stored;
    evaluation.forget();
    return resolveSeal(entry.group.seal, evaluation, entry.row);
  };
  const make = (first: ResolvedStep[]): Sealed | undefined => {
    let settled = first;
    for (let round = 0; round < MOST_ROUNDS; round++) {
      const { stored, blockSizes } = seal(settled, plain, evaluation.primitives, evaluation.spools);
      const next = settleFor(stored);
      if (sameSteps(next, settled))
        return keepsFields(evaluation, entry) ? { stored, blockSizes } : undefined;
      settled = next;
    }
    return undefined;
  };
  const asLong = settleFor(plain);
  const shorter = settleFor(plain.length > 0 ? shortened(plain) : ONE_BYTE);
  const made = [make(asLong), sameSteps(shorter, asLong) ? undefined : make(shorter)];
  evaluation.forget();
  const stable = made.filter((one) => one !== undefined);
  stable.sort((a, b) => a.stored.length - b.stored.length);
  if (stable[0]) return stable[0];
  throw new FormatError('script-wrong', {
    fieldPath: entry.path,
    expected: 'steps of the seal that apply to what they make',
    actual: `other steps apply to the ${payload.stored.length} bytes that come of ${plain.length} plain ones`,
    remedy: 'Say in the conditions of the seal when bytes are stored as they are',
  });
}

/** Whether a row would be read with the fields that it has: their conditions may hang on the stored size as well. */
function keepsFields(evaluation: WriteEvaluation, { row }: Entry): boolean {
  return row.type.fields.every(
    ({ condition, index }) =>
      !condition || asTruth(condition.run(evaluation, row)) === (row.get(index) !== undefined),
  );
}

/** Nothing may be stored as something. */
const ONE_BYTE: BytesRef = { length: 1, chunks: () => [new Uint8Array(1)] };

/** Stands for sealed bytes that came out shorter, while their length is all that is asked for. */
function shortened(plain: BytesRef): BytesRef {
  const length = plain.length - 1;
  return { length, chunks: () => [new Uint8Array(length)] };
}
