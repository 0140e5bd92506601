import type { Archive, Entry } from '../archive';
import { collect, FormatError, firstDifference, sliceOf, type BytesRef } from '../bytes';
import { asCount, PartVerifier } from '../script';
import { attempt, type Claim, type Proof, type ProofProgress } from './claims';
import { compareEntries, isBroken, lookThrough } from './compare-entries';
import { identityClaim } from './identity';
import { refuseBroken, type BuildPlan } from './plan';
import { isCopied, sameDeepValues } from './same-by-construction';
import { sameSteps } from './same-steps';

/** What a build was made of: an archive, and what was done to it. */
export interface BuildClaims {
  /** New plain bytes, by entry number as planned. */
  readonly changes: ReadonlyMap<number, BytesRef>;
  /** Where entries were added or taken out: the archive as it was planned, and the new number of each old entry, -1 for one that is gone. */
  readonly edited?: { readonly archive: Archive; readonly newNumbers: Int32Array } | undefined;
}

export interface ProveBuildOptions {
  /** The plan that was written: what it copied from file to file is not compared byte by byte again. */
  readonly copied?: BuildPlan | undefined;
  /** Kept entries are decoded, to find those that were damaged before; up to this many bytes of them. Nothing said: all. */
  readonly lookThroughBytes?: number;
  /** Kept entries that were damaged before are carried on. */
  readonly keepDamaged?: boolean;
  /** Writing the build again is not tried, where that was proved of the archive it was made from. */
  readonly onlyReopened?: boolean;
  readonly progress?: ProofProgress | undefined;
}

/** An entry that was damaged before anything was changed. */
export interface Damaged {
  readonly index: number;
  readonly path: string;
  readonly reason: string;
}

/** A changed entry that reads back with filling behind it, since the format has no sizes of its own. */
export interface FilledUp {
  readonly index: number;
  readonly path: string;
  readonly by: number;
}

export interface BuildProof extends Proof {
  readonly filled: readonly FilledUp[];
  readonly damaged: readonly Damaged[];
  /** Kept entries, and their bytes, that were not looked through for damage that they may have had. */
  readonly leftUnseen: { readonly entries: number; readonly bytes: number };
}

/**
 * Proves a build against what it was made from, as it lies on the disk: it opens, everything derived, fixed and computed
 * in it holds, untouched entries have the same stored bytes and are opened in the same way, changed ones decode to exactly
 * what was given, those taken out are gone, and a rewrite of the build is identical to it. Whatever writes an archive asks this
 * before the file gets its name.
 */
export function proveBuild(
  original: Archive,
  built: Archive,
  made: BuildClaims,
  options: ProveBuildOptions = {},
): BuildProof {
  const { changes, edited } = made;
  const filled: FilledUp[] = [];
  const kept = new KeptEntries(original, built, made, options);
  const claims: Claim[] = [
    ...wholeBefore(original),
    attempt('Reopened with the same script and keys', () => reopenedClaim(built)),
    attempt('Untouched entries are identical', () => kept.claim()),
    attempt('Changed entries equal what was given', () => changedClaim(built, changes, filled)),
    ...(kept.damaged.length > 0
      ? [attempt('Untouched entries are whole', () => damagedClaim(kept.damaged, options))]
      : []),
    ...(edited
      ? [attempt('Entries taken out are gone', () => goneClaim(original, built, made, options))]
      : []),
    ...(options.onlyReopened
      ? []
      : [attempt('Writing the build again gives the same bytes', () => identityClaim(built))]),
  ];
  return {
    holds: claims.every((claim) => claim.holds),
    claims,
    filled,
    damaged: kept.damaged,
    leftUnseen: kept.leftUnseen,
  };
}

/** What is stated over several payloads is made anew, so that damage of before would bear a good check afterwards. */
function wholeBefore(original: Archive): Claim[] {
  if (original.leftToProof.length === 0) return [];
  return [
    attempt('The original was whole', () => {
      const verifier = new PartVerifier(original.context, undefined);
      let deep = 0;
      for (const part of original.script.parts) deep += verifier.verifyDeep(original.context.part(part.name));
      return { holds: true, detail: `${deep} checks over several entries hold` };
    }),
  ];
}

/** Opening has compared everything that does not follow from payloads; here comes what follows from several of them. */
function reopenedClaim(built: Archive): Omit<Claim, 'claim'> {
  refuseBroken(built);
  const verifier = new PartVerifier(built.context, undefined);
  let deep = 0;
  for (const part of built.script.parts) deep += verifier.verifyDeep(built.context.part(part.name));
  return { holds: true, detail: `${built.fieldsHeld + deep} derived fields hold` };
}

class KeptEntries {
  readonly damaged: Damaged[] = [];
  readonly leftUnseen = { entries: 0, bytes: 0 };
  private seenBytes = 0;

  constructor(
    private readonly original: Archive,
    private readonly built: Archive,
    private readonly made: BuildClaims,
    private readonly options: ProveBuildOptions,
  ) {}

  claim(): Omit<Claim, 'claim'> {
    const { original, built, options } = this;
    const { changes, edited } = this.made;
    const total = original.entries.reduce((sum, entry) => sum + entry.storedSize, 0);
    const difference = edited
      ? compareEntries(edited.archive, built, () => undefined)
      : original.entries.length === built.entries.length
        ? undefined
        : `${original.entries.length} entries have become ${built.entries.length}`;
    if (difference) return { holds: false, detail: difference };
    let done = 0;
    let untouched = 0;
    let bytes = 0;
    for (const entry of original.entries) {
      done += entry.storedSize;
      options.progress?.(done, total, entry.path);
      const there = built.entries[edited ? edited.newNumbers[entry.index]! : entry.index];
      if (!there) continue;
      if (!edited && there.path !== entry.path)
        return { holds: false, detail: `entry ${entry.index}, ${entry.path}, has become ${there.path}` };
      if (isBroken(there)) return { holds: false, detail: there.problem!.message };
      const detail =
        misplaced(built, entry, there) ?? (changes.has(there.index) ? undefined : this.differs(entry, there));
      if (detail) return { holds: false, detail };
      if (changes.has(there.index)) continue;
      untouched++;
      bytes += entry.storedSize;
    }
    for (const [index] of changes) {
      const there = built.entries[index];
      const detail = there && misplaced(built, undefined, there);
      if (detail) return { holds: false, detail };
    }
    return { holds: true, detail: `${untouched} of ${untouched}, ${bytes} bytes compared` };
  }

  private differs(entry: Entry, there: Entry): string | undefined {
    const { original, built } = this;
    const { copied } = this.options;
    if (there.storedSize !== entry.storedSize)
      return `${entry.path} has ${there.storedSize} stored bytes now, and had ${entry.storedSize}`;
    // What is sealed by its number or place would be opened with another key now.
    if (!sameSteps(original.steps(entry), built.steps(there)))
      return `${entry.path} would be opened in another way now`;
    if (entry.group.size && entry.size !== there.size)
      return `${entry.path} would have ${there.size} bytes now instead of ${entry.size}`;
    if (!(copied && isCopied(copied, built, entry, there))) {
      const at = firstDifference(original.stored(entry), built.stored(there));
      if (at !== undefined) return `${entry.path} differs at stored byte ${at}`;
    }
    return this.damage(entry, there);
  }

  /** Looks through what is kept; what fails in the same way before and after was damaged before. */
  private damage(entry: Entry, there: Entry): string | undefined {
    const { original, built, options } = this;
    if (!built.isChecked(there)) return undefined;
    const isSame = sameDeepValues(entry, there);
    if (isSame && this.seenBytes + there.size > (options.lookThroughBytes ?? Infinity)) {
      this.leftUnseen.entries++;
      this.leftUnseen.bytes += there.size;
      return undefined;
    }
    this.seenBytes += there.size;
    const after = failureOf(() => lookThrough(built.plain(there)));
    if (!after) return undefined;
    const before = failureOf(() => lookThrough(original.plain(entry)));
    if (!before) return after;
    this.damaged.push({ index: entry.index, path: entry.path, reason: before });
    return undefined;
  }
}

function failureOf(work: () => void): string | undefined {
  try {
    work();
    return undefined;
  } catch (error) {
    if (error instanceof FormatError) return error.message;
    throw error;
  }
}

/** A payload that has moved, or is new, and is not where the script's `align` says. */
function misplaced(built: Archive, entry: Entry | undefined, there: Entry): string | undefined {
  const { align, payload } = there.group;
  if (!align || there.storedSize === 0 || (payload.sort !== 'placed' && payload.sort !== 'in order'))
    return undefined;
  if (entry && entry.offset === there.offset && entry.file === there.file) return undefined;
  const unit = Math.max(1, asCount(align.run(built.context, there.row)));
  return there.offset % unit === 0
    ? undefined
    : `${there.path} lies at byte ${there.offset}, which is no multiple of ${unit} (${align.text})`;
}

function changedClaim(
  built: Archive,
  changes: BuildClaims['changes'],
  filled: FilledUp[],
): Omit<Claim, 'claim'> {
  for (const [index, plain] of changes) {
    const there = built.entries[index];
    if (!there) return { holds: false, detail: `entry ${index} is missing` };
    const at = firstDifference(built.plain(there), plain);
    if (at === undefined) continue;
    const by = at === plain.length ? filling(built, there, plain.length) : undefined;
    if (by === undefined) return { holds: false, detail: `${there.path} differs at byte ${at}` };
    filled.push({ index, path: there.path, by });
  }
  const exact = changes.size - filled.length;
  return {
    holds: true,
    detail: `${exact} of ${changes.size} exact${filled.length > 0 ? `; ${filled.map(({ path, by }) => `${path} is followed by ${by} filling bytes`).join(', ')}, as the format has no sizes of its own` : ''}`,
  };
}

/**
 * How many bytes of filling an entry reads back with behind what was given, where the format states no sizes, so that the filling up
 * to the next multiple of its alignment cannot be told from the entry; undefined where they are anything else.
 */
function filling(built: Archive, there: Entry, length: number): number | undefined {
  const { align, size, fill } = there.group;
  if (size || !align || there.group.seal.length > 0) return undefined;
  const unit = Math.max(1, asCount(align.run(built.context, there.row)));
  const by = there.storedSize - length;
  if (by <= 0 || by >= unit) return undefined;
  const rest = collect(sliceOf(built.stored(there), length, by));
  return rest.every((byte) => byte === fill) ? by : undefined;
}

function damagedClaim(
  damaged: readonly Damaged[],
  { keepDamaged = false }: ProveBuildOptions,
): Omit<Claim, 'claim'> {
  const [first] = damaged;
  const more = damaged.length > 1 ? `, and ${damaged.length - 1} more` : '';
  return {
    holds: keepDamaged,
    detail: keepDamaged
      ? `${damaged.length} were damaged before and are kept as they were: ${first!.path}${more}`
      : `damaged before anything was changed: ${first!.reason}${more ? ` There are${more.replace(', and', '')} like it.` : ''}`,
  };
}

function goneClaim(
  original: Archive,
  built: Archive,
  { edited }: BuildClaims,
  { copied }: ProveBuildOptions,
): Omit<Claim, 'claim'> {
  const gone = original.entries.filter(({ index, problem }) => edited!.newNumbers[index]! < 0 && !problem);
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
  const stays = copied && bodyLeft(original, gone, copied);
  if (stays) return { holds: false, detail: `the bytes of ${stays.path} are still in the file` };
  return { holds: true, detail: `${gone.length} of ${gone.length}` };
}

/** An entry that was taken out whose bytes are carried on as something that nothing explains. */
function bodyLeft(original: Archive, gone: readonly Entry[], { files }: BuildPlan): Entry | undefined {
  for (const { file, segments } of files) {
    const strays = segments.filter(({ sort, copyFrom }) => sort === 'unexplained' && copyFrom !== undefined);
    if (strays.length === 0) continue;
    const found = gone.find(
      (entry) =>
        entry.file === file.index &&
        entry.storedSize > 0 &&
        !entry.holder &&
        !original.coverage.gaps.some((gap) => gap.offset === entry.offset) &&
        strays.some(({ copyFrom, length }) => copyFrom! <= entry.offset && entry.offset < copyFrom! + length),
    );
    if (found) return found;
  }
  return undefined;
}
