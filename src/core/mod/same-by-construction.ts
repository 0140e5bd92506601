import type { Archive, Entry } from '../archive';
import { sameValue, type RecordNode } from '../script';
import type { BuildPlan, Segment } from './plan';
import { sameSteps } from './same-steps';

/**
 * Whether an entry of a planned archive has to decode to the same bytes as before and fulfil the same checks: its
 * stored bytes are copied from where they were, its seal is the same, and so are its size and every value that
 * follows from its bytes. Then looking at them once is enough. Anything that cannot be told is a no.
 */
export function isSameByConstruction(plan: BuildPlan, rebuilt: Archive, entry: Entry, there: Entry): boolean {
  if (entry.holder || entry.pieces || entry.file !== there.file) return false;
  if (entry.size !== there.size || entry.storedSize !== there.storedSize) return false;
  const file = plan.files.find(({ file: one }) => one.index === there.file);
  const segment = file && segmentAt(file.segments, there.offset);
  if (segment?.copyFrom === undefined) return false;
  const inside = there.offset - segment.place;
  if (segment.copyFrom + inside !== entry.offset || inside + there.storedSize > segment.length) return false;
  const steps = plan.archive.steps(entry);
  if (steps.some(({ sort }) => sort === 'blocks') || !sameSteps(steps, rebuilt.steps(there))) return false;
  return sameDeepValues(entry.row, there.row);
}

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

/** Fields over payload bytes must be the same in both rows, and must not ask for anything but those bytes. */
function sameDeepValues(row: RecordNode, other: RecordNode): boolean {
  return row.type.fields.every(({ role, index }) => {
    if (role.sort !== 'derived' || !role.deep) return true;
    if ([...role.from.mentions].some((name) => name !== 'payload')) return false;
    return sameValue(row.get(index), other.get(index));
  });
}
