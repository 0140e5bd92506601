import type { Archive } from '@/core/archive';
import { asCount } from '@/core/script';

/** Something about an archive that opens all the same, and whether it is no sign of a fault. */
export interface Doubt {
  readonly text: string;
  readonly isHarmless: boolean;
}

/** Stretches that are told one by one. */
const MOST_TOLD = 5;

/**
 * What reading alone does not refuse: payloads that share bytes with each other or with a table, those that are not where the script's
 * `align` says, bytes that nothing explains, and what was left to the proof.
 */
export function doubtsOf(archive: Archive, name: string): Doubt[] {
  const { gaps, overlaps } = archive.coverage;
  const fileOf = (file: number): string => (file > 0 ? ` of ${archive.files[file]!.fileName}` : '');
  const doubts: Doubt[] = overlaps.slice(0, MOST_TOLD).map(({ offset, length, what, file }) => ({
    text: `${name}, byte ${offset}${fileOf(file)}: ${length} bytes are claimed twice, by ${what}`,
    isHarmless: false,
  }));
  if (overlaps.length > MOST_TOLD)
    doubts.push({
      text: `${name}: ${overlaps.length - MOST_TOLD} more stretches are claimed twice`,
      isHarmless: false,
    });
  const askew = misaligned(archive);
  if (askew.length > 0)
    doubts.push({
      text: `${name}: ${askew[0]!.path} lies at byte ${askew[0]!.offset}, which is no multiple of ${askew[0]!.unit} as align says${askew.length > 1 ? `, nor do ${askew.length - 1} others` : ''}`,
      isHarmless: true,
    });
  const unexplained = gaps.filter(({ file, offset, length }) => !isFilling(archive, file, offset, length));
  if (unexplained.length > 0) {
    const bytes = unexplained.reduce((sum, { length }) => sum + length, 0);
    doubts.push({
      text: `${name}, byte ${unexplained[0]!.offset}${fileOf(unexplained[0]!.file)}: nothing explains ${bytes} bytes in ${unexplained.length} ${unexplained.length === 1 ? 'stretch' : 'stretches'}; bin/latch explain shows them`,
      isHarmless: true,
    });
  }
  const left = archive.leftToProof;
  if (left.length > 0)
    doubts.push({
      text: `${name}: ${left.slice(0, MOST_TOLD).join(', ')}${left.length > MOST_TOLD ? ` and ${left.length - MOST_TOLD} more` : ''} follow from the bytes of several entries, and are tried by bin/latch prove and repack only`,
      isHarmless: true,
    });
  return doubts;
}

/** Payloads that lie against the alignment that their script states. */
function misaligned(archive: Archive): { path: string; offset: number; unit: number }[] {
  if (archive.script.entries.every(({ align }) => !align)) return [];
  return archive.entries.flatMap((entry) => {
    const { align } = entry.group;
    if (!align || entry.storedSize === 0 || entry.problem) return [];
    const unit = Math.max(1, asCount(align.run(archive.context, entry.row)));
    return entry.offset % unit === 0 ? [] : [{ path: entry.path, offset: entry.offset, unit }];
  });
}

/** Longer stretches than this are no filling, whatever is in them. */
const MOST_FILLING = 1 << 16;

/** Nothing but one byte over and over, as between payloads. */
function isFilling(archive: Archive, file: number, offset: number, length: number): boolean {
  if (length > MOST_FILLING) return false;
  const bytes = archive.files[file]!.space.source.read(offset, length);
  const [first] = bytes;
  return (first === 0 || first === 0xff || first === 0x20) && bytes.every((byte) => byte === first);
}
