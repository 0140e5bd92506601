import type { Archive } from '../archive';
import { refOfBytes, refOfSpan, type BytesRef } from '../bytes';
import type { Placed } from './layout';

/** The bytes before a placed item: those that were there where it is as long as it was, else filling. */
export function paddingOf(
  archive: Archive,
  file: number,
  { item, padding }: Placed,
  anew: boolean,
): { bytes: BytesRef; from: number | undefined } {
  const from = item.from - padding;
  const before = archive.coverage.gaps.some(
    (gap) => gap.file === file && gap.offset === from && gap.length === padding,
  );
  if (!anew && before) return { bytes: refOfSpan(archive.files[file]!.space.source, from, padding), from };
  const fill = item.sort === 'payload' ? item.fill : 0;
  return { bytes: refOfBytes(new Uint8Array(padding).fill(fill)), from: undefined };
}
