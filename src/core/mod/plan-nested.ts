import type { Nested } from '../archive';
import { concatRefs, type BytesRef } from '../bytes';
import { planArchive, type BuildPlan, type FilePlan, type PlanOptions } from './plan';

/** The bytes that a planned file will have. */
const contentOf = ({ segments }: FilePlan): BytesRef => concatRefs(segments.map(({ bytes }) => bytes));

/**
 * Plans the outermost file for changes in an archive that lies in an entry of another one, at any depth: each inner
 * file is written as a change of the entry that it is.
 */
export function planNested(
  nested: Nested,
  changes: ReadonlyMap<number, BytesRef>,
  options: PlanOptions = {},
): BuildPlan {
  const plan = planArchive(nested.archive, changes, options);
  const { within } = nested;
  if (!within) return plan;
  try {
    const outerChanges = new Map<number, BytesRef>();
    for (const file of plan.files) {
      const entry = within.entries.get(file.file);
      const isSame =
        file.length === file.file.space.source.length &&
        file.segments.every(({ copyFrom, place }) => copyFrom === place);
      if (entry && !isSame) outerChanges.set(entry.index, contentOf(file));
    }
    // What was edited is the innermost one.
    const { way, anew } = options;
    const rest = { ...(way && { way }), ...(anew !== undefined && { anew }) };
    const outer = planNested(within.outer, outerChanges, rest);
    return {
      ...outer,
      discard() {
        outer.discard();
        plan.discard();
      },
    };
  } catch (error) {
    plan.discard();
    throw error;
  }
}
