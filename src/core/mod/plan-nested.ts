import { openNested, type Archive, type Entry, type Nested } from '../archive';
import { concatRefs, FormatError, type BytesRef, type ByteSource } from '../bytes';
import type { FindCompanion } from '../script';
import type { BuildPlan, FilePlan, PlanOptions } from './plan';
import { planArchive } from './plan';
import { proveBuild, type BuildClaims, type BuildProof, type ProveBuildOptions } from './prove-build';

/** The bytes that a planned file will have. */
const contentOf = ({ segments }: FilePlan): BytesRef => concatRefs(segments.map(({ bytes }) => bytes));

/** One archive of those that lie in each other, and what is changed in it. */
export interface PlannedLevel {
  readonly archive: Archive;
  readonly changes: ReadonlyMap<number, BytesRef>;
  /** The entry that the next level is. */
  readonly inner: Entry | undefined;
}

export interface NestedPlan extends BuildPlan {
  /** From the outermost in. */
  readonly levels: readonly PlannedLevel[];
}

/**
 * Plans the outermost file for changes in an archive that lies in an entry of another one, at any depth: each inner
 * file is written as a change of the entry that it is.
 */
export function planNested(
  nested: Nested,
  changes: ReadonlyMap<number, BytesRef>,
  options: PlanOptions = {},
  inner?: Entry,
): NestedPlan {
  const plan = planArchive(nested.archive, changes, options);
  const level: PlannedLevel = { archive: nested.archive, changes, inner };
  const { within } = nested;
  if (!within) return { ...plan, levels: [level] };
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
    const outer = planNested(within.outer, outerChanges, rest, within.entries.get(nested.archive.files[0]!));
    return {
      ...outer,
      levels: [...outer.levels, level],
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

/** Opens an archive of a depth, 0 for the outermost, as the original of it was opened. */
export type OpenAtDepth = (depth: number, source: ByteSource, companion: FindCompanion) => Archive;

export interface ProveNestedOptions extends ProveBuildOptions {
  /** Where entries of the innermost archive were added or taken out. */
  readonly edited?: BuildClaims['edited'];
  /** The innermost archive as it was, where the planned one was edited. */
  readonly original?: Archive;
}

/**
 * Proves what was written of a nested plan, level by level from the outermost in; `built` is the outermost file, opened again. The
 * proof of the first level that does not hold, or of the innermost.
 */
export function proveNested(
  { levels }: NestedPlan,
  built: Archive,
  open: OpenAtDepth,
  { edited, original, ...options }: ProveNestedOptions = {},
): BuildProof {
  let nested: Nested = { archive: built, within: undefined, discard: () => built.discard() };
  const opened: Nested[] = [];
  try {
    for (let depth = 0; ; depth++) {
      const { archive, changes, inner } = levels[depth]!;
      const isLast = depth === levels.length - 1;
      // Only the outermost lies on the disk as it was planned.
      const own = depth > 0 ? { ...options, copied: undefined } : options;
      const proof = isLast
        ? proveBuild(original ?? archive, nested.archive, { changes, edited }, own)
        : proveBuild(archive, nested.archive, { changes }, own);
      const there = inner && nested.archive.entries[inner.index];
      if (isLast || !proof.holds || !there) return proof;
      nested = openNested(nested, there, (source, companion) => open(depth + 1, source, companion));
      opened.push(nested);
    }
  } finally {
    for (const one of opened.reverse()) one.discard();
  }
}

/** Throws what is wrong with a build that does not hold. */
export function refuseFalse({ claims, holds }: BuildProof, file: string): void {
  if (holds) return;
  const { claim, detail } = claims.find((one) => !one.holds)!;
  throw new FormatError('would-be-wrong', { file, expected: claim.toLowerCase(), actual: detail });
}
