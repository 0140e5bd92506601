import type { Archive, Coverage } from '../archive';
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
  if (!anew && gapsOf(archive.coverage, file).get(from) === padding)
    return { bytes: refOfSpan(archive.files[file]!.space.source, from, padding), from };
  const fill = item.sort === 'payload' ? item.fill : 0;
  return { bytes: refOfBytes(new Uint8Array(padding).fill(fill)), from: undefined };
}

const known = new WeakMap<Coverage, Map<number, ReadonlyMap<number, number>>>();

/** Lengths of the gaps in a file by where they begin. */
function gapsOf(coverage: Coverage, file: number): ReadonlyMap<number, number> {
  let byFile = known.get(coverage);
  if (!byFile) known.set(coverage, (byFile = new Map<number, ReadonlyMap<number, number>>()));
  let gaps = byFile.get(file);
  if (!gaps) {
    const own = coverage.gaps.filter((gap) => gap.file === file);
    byFile.set(file, (gaps = new Map(own.map(({ offset, length }) => [offset, length]))));
  }
  return gaps;
}
