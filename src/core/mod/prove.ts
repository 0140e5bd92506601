import type { Archive, OpenOptions } from '../archive';
import { firstDifference } from '../bytes';
import { PartVerifier } from '../script';
import { attempt, withPlan, type Claim, type Proof, type ProofProgress } from './claims';
import { compareEntries, lookThrough } from './compare-entries';
import { identityClaim } from './identity';
import { openPlanned } from './open-planned';
import { planArchive } from './plan';
import { isSameByConstruction } from './same-by-construction';
import { editsClaim } from './try-edits';

/**
 * Proves that a script describes an archive in both directions: a rewrite without changes gives the same
 * bytes, a rebuild with every derived field recomputed and every place chosen anew reopens to the
 * same entries, and so does what a repack would make of it.
 */
export function proveArchive(archive: Archive, options: OpenOptions, progress?: ProofProgress): Proof {
  const claims = [
    attempt('Every derived field of the tables holds', () => fieldsClaim(archive)),
    attempt('A rewrite without changes is identical', () => identityClaim(archive)),
    attempt('A rebuild chosen anew reopens to the same entries', () =>
      rebuildClaim(archive, options, progress),
    ),
    attempt('Entries changed, added and taken out come out right', () =>
      editsClaim(archive, options, progress),
    ),
  ];
  return { holds: claims.every((claim) => claim.holds), claims };
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
