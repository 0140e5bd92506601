import { openArchive, type Archive, type Entry, type OpenOptions } from '../archive';
import { FormatError, firstDifference, refOfSpan, type BytesRef } from '../bytes';
import { PartVerifier } from '../script';
import { planArchive, type BuildPlan, type FilePlan } from './plan';
import { planSource } from './plan-source';
import { sameSteps } from './same-steps';
import { isSameByConstruction } from './same-by-construction';

/** One claim of a proof and whether it holds. */
export interface Claim {
  readonly claim: string;
  readonly holds: boolean;
  readonly detail: string;
}

export interface Proof {
  readonly holds: boolean;
  readonly claims: readonly Claim[];
}

export type ProofProgress = (done: number, total: number, what: string) => void;

/**
 * Proves that a script describes an archive in both directions: a rewrite without changes gives the same
 * bytes, and a rebuild with every derived field recomputed and every place chosen anew reopens to the
 * same entries.
 */
export function proveArchive(archive: Archive, options: OpenOptions, progress?: ProofProgress): Proof {
  const claims = [
    attempt('Every derived field of the tables holds', () => fieldsClaim(archive)),
    attempt('A rewrite without changes is identical', () => identityClaim(archive)),
    attempt('A rebuild chosen anew reopens to the same entries', () =>
      rebuildClaim(archive, options, progress),
    ),
  ];
  return { holds: claims.every((claim) => claim.holds), claims };
}

function attempt(claim: string, work: () => Omit<Claim, 'claim'>): Claim {
  try {
    return { claim, ...work() };
  } catch (error) {
    if (error instanceof FormatError) return { claim, holds: false, detail: error.message };
    throw error;
  }
}

/** Fields over one entry's bytes are checked while these are gone through; here come those over several. */
function fieldsClaim(archive: Archive): Omit<Claim, 'claim'> {
  const verifier = new PartVerifier(archive.context, undefined);
  let deep = 0;
  for (const part of archive.script.parts) deep += verifier.verifyDeep(archive.context.part(part.name));
  const { gaps } = archive.coverage;
  const left = gaps.reduce((sum, gap) => sum + gap.length, 0);
  return {
    holds: true,
    detail: `${archive.fieldsHeld + deep} fields; ${archive.coverage.explained} bytes explained, ${left} kept as padding or unexplained`,
  };
}

function withPlan<T>(plan: BuildPlan, work: (plan: BuildPlan) => T): T {
  try {
    return work(plan);
  } finally {
    plan.discard();
  }
}

function identityClaim(archive: Archive): Omit<Claim, 'claim'> {
  return withPlan(planArchive(archive), (plan) => {
    for (const file of plan.files) {
      const detail = differenceOf(file);
      if (detail) return { holds: false, detail };
    }
    const segments = plan.files.reduce((sum, file) => sum + file.segments.length, 0);
    const several = plan.files.length > 1 ? `${plan.files.length} files, ` : '';
    return { holds: true, detail: `${several}${plan.length} bytes, ${segments} segments` };
  });
}

/** Where a file would come out otherwise than it was. */
function differenceOf({ file, segments, length }: FilePlan): string | undefined {
  const { source } = file.space;
  const where = file.index === 0 ? '' : ` of ${file.fileName}`;
  for (const segment of segments) {
    if (segment.copyFrom === segment.place) continue;
    const there = Math.min(segment.length, Math.max(0, source.length - segment.place));
    const at = firstDifference(segment.bytes, refOfSpan(source, segment.place, there));
    if (at !== undefined)
      return `the first difference is at byte ${segment.place + at}${where}, in ${segment.what}`;
  }
  return length === source.length
    ? undefined
    : `the rewrite${where} has ${length} bytes, the archive ${source.length}`;
}

/** Opens what a plan would give, without writing it. */
export function openPlanned(plan: BuildPlan, options: OpenOptions): Archive {
  const { archive, files } = plan;
  return openArchive(archive.script, planSource(files[0]!, archive.source.name), {
    ...options,
    companion(fileName, name, number) {
      const found = files.find(({ file }) => file.type?.name === name && file.number === number);
      return found ? planSource(found, fileName) : options.companion?.(fileName, name, number);
    },
  });
}

function rebuildClaim(
  archive: Archive,
  options: OpenOptions,
  progress?: ProofProgress,
): Omit<Claim, 'claim'> {
  return withPlan(planArchive(archive, new Map(), { anew: true }), (plan) => {
    const rebuilt = openPlanned(plan, options);
    const total = archive.entries.reduce((sum, entry) => sum + entry.size, 0);
    let done = 0;
    const difference = compareEntries(archive, rebuilt, (entry, there) => {
      // Working out what is over its bytes may have gone through them already.
      const at = isSameByConstruction(plan, rebuilt, entry, there)
        ? archive.isLookedThrough(entry)
          ? undefined
          : lookThrough(archive.plain(entry))
        : firstDifference(archive.plain(entry), rebuilt.plain(there));
      done += entry.size;
      progress?.(done, total, entry.path);
      return at === undefined ? undefined : `${entry.path} differs at byte ${at}`;
    });
    return difference
      ? { holds: false, detail: difference }
      : { holds: true, detail: `${archive.entries.length} entries, ${total} bytes compared` };
  });
}

/** Decodes all, so that what is checked on the way is checked. */
function lookThrough(bytes: BytesRef): undefined {
  const chunks = bytes.chunks()[Symbol.iterator]();
  while (!chunks.next().done);
}

/** The first difference between the entries of two archives, with `compare` for their bytes. */
export function compareEntries(
  a: Archive,
  b: Archive,
  compare: (entry: Entry, there: Entry) => string | undefined,
): string | undefined {
  if (a.entries.length !== b.entries.length)
    return `${a.entries.length} entries have become ${b.entries.length}`;
  for (const entry of a.entries) {
    const there = b.entries[entry.index]!;
    if (there.path !== entry.path) return `entry ${entry.index}, ${entry.path}, has become ${there.path}`;
    if (there.problem && there.problem.code !== 'unsafe-path') return there.problem.message;
    const difference = compare(entry, there);
    if (difference) return difference;
  }
  return undefined;
}

/** What a build was made of: an archive, and what was done to it. */
export interface BuildClaims {
  /** New plain bytes, by entry number as planned. */
  readonly changes: ReadonlyMap<number, BytesRef>;
  /** Where entries were added or taken out: the archive as it was planned, and the new number of each old entry, -1 for one that is gone. */
  readonly edited?: { readonly archive: Archive; readonly newNumbers: Int32Array } | undefined;
}

/**
 * Proves a build against what it was made from: untouched entries have the same stored bytes, changed
 * ones decode to exactly what was given, those taken out are gone, and a rewrite of the build is identical to it.
 */
export function proveBuild(
  original: Archive,
  built: Archive,
  { changes, edited }: BuildClaims,
  progress?: ProofProgress,
): Proof {
  const total = original.entries.reduce((sum, entry) => sum + entry.storedSize, 0);
  const nowOf = (index: number): number => (edited ? edited.newNumbers[index]! : index);
  let done = 0;
  let untouched = 0;
  let bytes = 0;
  const names = attempt('Untouched entries are identical', () => {
    const difference = edited
      ? compareEntries(edited.archive, built, () => undefined)
      : original.entries.length === built.entries.length
        ? undefined
        : `${original.entries.length} entries have become ${built.entries.length}`;
    if (difference) return { holds: false, detail: difference };
    for (const entry of original.entries) {
      done += entry.storedSize;
      progress?.(done, total, entry.path);
      const there = built.entries[nowOf(entry.index)];
      if (!there) continue;
      if (!edited && there.path !== entry.path)
        return { holds: false, detail: `entry ${entry.index}, ${entry.path}, has become ${there.path}` };
      if (there.problem && there.problem.code !== 'unsafe-path')
        return { holds: false, detail: there.problem.message };
      if (changes.has(there.index)) continue;
      untouched++;
      bytes += entry.storedSize;
      const at = firstDifference(original.stored(entry), built.stored(there));
      if (at !== undefined) return { holds: false, detail: `${entry.path} differs at stored byte ${at}` };
      // What is sealed by its number would be opened with another key now.
      if (edited && !sameSteps(original.steps(entry), built.steps(there)))
        return { holds: false, detail: `${entry.path} would be opened in another way now` };
    }
    return { holds: true, detail: `${untouched} of ${untouched}, ${bytes} bytes compared` };
  });
  const given = attempt('Changed entries equal what was given', () => {
    for (const [index, plain] of changes) {
      const there = built.entries[index];
      if (!there) return { holds: false, detail: `entry ${index} is missing` };
      const at = firstDifference(built.plain(there), plain);
      if (at !== undefined) return { holds: false, detail: `${there.path} differs at byte ${at}` };
    }
    return { holds: true, detail: `${changes.size} of ${changes.size} exact` };
  });
  const reopened: Claim = {
    claim: 'Reopened with the same script and keys',
    holds: true,
    detail: `${built.fieldsHeld} derived fields hold`,
  };
  const gone = edited ? [attempt('Entries taken out are gone', () => goneClaim(original, built, nowOf))] : [];
  const identity = attempt('Writing the build again gives the same bytes', () => identityClaim(built));
  const claims = [reopened, names, given, ...gone, identity];
  return { holds: claims.every((claim) => claim.holds), claims };
}

function goneClaim(
  original: Archive,
  built: Archive,
  nowOf: (index: number) => number,
): Omit<Claim, 'claim'> {
  const gone = original.entries.filter(({ index, problem }) => nowOf(index) < 0 && !problem);
  const count = (archive: Archive): Map<string, number> => {
    const counts = new Map<string, number>();
    for (const { path } of archive.entries) counts.set(path, (counts.get(path) ?? 0) + 1);
    return counts;
  };
  const left = count(built);
  const before = gone.length > 0 ? count(original) : left;
  for (const { path, named } of gone)
    if (named && (left.get(path) ?? 0) >= before.get(path)!)
      return { holds: false, detail: `${path} is still there` };
  return { holds: true, detail: `${gone.length} of ${gone.length}` };
}
