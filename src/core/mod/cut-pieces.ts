import type { Archive, Entry } from '../archive';
import { collect, FormatError, refOfBytes, refOfSpan, sliceOf, type BytesRef } from '../bytes';
import { asCount, fieldIndex, type RecordNode } from '../script';
import { shareOut } from './share-out';
import type { WriteEvaluation } from './write-evaluation';

/** Payloads up to this length are cut up in memory. */
const MOST_HELD = 16 << 20;

/** Cuts new payloads for entries that lie in several pieces. */
export class CutPieces {
  private readonly known = new Map<BytesRef, Map<RecordNode, BytesRef>>();

  constructor(
    private readonly archive: Archive,
    private readonly evaluation: WriteEvaluation,
  ) {}

  of(entry: Entry, stored: BytesRef, node: RecordNode): BytesRef | undefined {
    let cuts = this.known.get(stored);
    if (!cuts) this.known.set(stored, (cuts = this.cut(entry, stored)));
    return cuts.get(node);
  }

  private cut(entry: Entry, stored: BytesRef): Map<RecordNode, BytesRef> {
    const { payload } = entry.group;
    const pieces = entry.pieces ?? [];
    const cuts = new Map<RecordNode, BytesRef>();
    if (payload.sort !== 'pieces') return cuts;
    const unit = payload.unit ? Math.max(1, asCount(payload.unit.run(this.archive.context, entry.row))) : 1;
    const ref = this.readable(stored);
    const own = this.evaluation.marks.cuts.get(entry.index);
    if (own) {
      cutAs(entry, ref, own).forEach((part, i) => cuts.set(pieces[i]!, part));
      return cuts;
    }
    const lengths = pieces.map((piece) => piece.fieldLength(fieldIndex(piece, payload.field)));
    let from = 0;
    shareOut(lengths, stored.length, unit).forEach((end, i) => {
      cuts.set(pieces[i]!, sliceOf(ref, from, end - from));
      from = end;
    });
    return cuts;
  }

  /** Made bytes are gone through once here instead of once for each piece. */
  private readable(stored: BytesRef): BytesRef {
    if (stored.span) return stored;
    if (stored.length <= MOST_HELD) return refOfBytes(collect(stored));
    const spool = this.evaluation.primitives.spool();
    this.evaluation.spools.push(spool);
    for (const chunk of stored.chunks()) spool.write(chunk);
    return refOfSpan(spool.source, 0, stored.length);
  }
}

/** A payload in pieces of these lengths. */
function cutAs({ path, pieces }: Entry, stored: BytesRef, lengths: readonly number[]): BytesRef[] {
  const total = lengths.reduce((sum, length) => sum + length, 0);
  if (total !== stored.length || lengths.length !== pieces?.length)
    throw new FormatError('not-writable', {
      ...{ fieldPath: path, expected: `${total} stored bytes in ${lengths.length} pieces` },
      actual: `${stored.length} in ${pieces?.length ?? 0}`,
      why: 'what is cut where its pictures end may not be packed as a whole',
      remedy: "Leave 'seal' of this payload out of the script, or 'cut'",
    });
  let from = 0;
  return lengths.map((length) => {
    from += length;
    return sliceOf(stored, from - length, length);
  });
}
