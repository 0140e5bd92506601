import type { Archive } from '../archive';
import { firstDifference, refOfSpan } from '../bytes';
import { withPlan, type Claim } from './claims';
import { planArchive, type FilePlan } from './plan';

/** A rewrite without changes gives the same bytes, in all files of an archive. */
export function identityClaim(archive: Archive): Omit<Claim, 'claim'> {
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
