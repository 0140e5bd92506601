import type { Archive, Entry } from '../archive';
import { sameValue, type RecordNode, type RecordType } from '../script';
import type { BuildPlan, Segment } from './plan';
import { sameSteps } from './same-steps';

/**
 * Whether an entry of a planned archive has to decode to the same bytes as before and fulfil the same checks: its
 * stored bytes are copied from where they were, its seal is the same, and so are its size and every value that
 * follows from its bytes. Then looking at them once is enough. Anything that cannot be told is a no.
 */
export function isSameByConstruction(plan: BuildPlan, rebuilt: Archive, entry: Entry, there: Entry): boolean {
  if (entry.size !== there.size || !isCopied(plan, rebuilt, entry, there)) return false;
  const steps = plan.archive.steps(entry);
  if (steps.some(({ sort }) => sort === 'blocks') || !sameSteps(steps, rebuilt.steps(there))) return false;
  return sameDeepValues(entry, there);
}

/** Whether an entry's stored bytes were copied from where they lay before. Anything that cannot be told is a no. */
export function isCopied(plan: BuildPlan, rebuilt: Archive, entry: Entry, there: Entry): boolean {
  if (entry.pieces || entry.file !== there.file || !liesOpen(entry) || !liesOpen(there)) return false;
  if (entry.storedSize !== there.storedSize) return false;
  const { type, number, holders } = rebuilt.files[there.file]!;
  const file =
    !holders && plan.files.find(({ file: one }) => one.type?.name === type?.name && one.number === number);
  const segment = file ? segmentAt(file.segments, there.offset) : undefined;
  if (segment?.copyFrom === undefined) return false;
  const inside = there.offset - segment.place;
  return segment.copyFrom + inside === entry.offset && inside + there.storedSize <= segment.length;
}

/** A payload in a field lies where it says, unless what is around it is sealed. */
const liesOpen = ({ holder }: Entry): boolean => !holder?.space.region;

function segmentAt(segments: readonly Segment[], offset: number): Segment | undefined {
  let low = 0;
  let high = segments.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (segments[middle]!.place <= offset) low = middle;
    else high = middle - 1;
  }
  return segments[low];
}

/** Fields over payload bytes must be the same before and after, and must not ask for anything but those bytes. */
export function sameDeepValues(entry: Entry, there: Entry): boolean {
  if (!sameDeepFields(entry.row, there.row)) return false;
  return !entry.holder || entry.holder === entry.row || sameDeepFields(entry.holder, there.holder!);
}

function sameDeepFields(row: RecordNode, other: RecordNode): boolean {
  return deepFieldsOf(row.type).every(
    ({ index, onlyPayload }) => onlyPayload && sameValue(row.get(index), other.get(index)),
  );
}

interface DeepField {
  readonly index: number;
  /** Whether it follows from the payload and nothing else. */
  readonly onlyPayload: boolean;
}

const deepFields = new WeakMap<RecordType, readonly DeepField[]>();

function deepFieldsOf(type: RecordType): readonly DeepField[] {
  let known = deepFields.get(type);
  if (!known) {
    known = type.fields.flatMap(({ role, index }) =>
      role.sort === 'derived' && role.deep
        ? [{ index, onlyPayload: [...role.from.mentions].every((name) => name === 'payload') }]
        : [],
    );
    deepFields.set(type, known);
  }
  return known;
}
