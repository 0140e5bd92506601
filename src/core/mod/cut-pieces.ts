import type { Archive, Entry } from '../archive';
import { collect, refOfBytes, refOfSpan, sliceOf, type BytesRef } from '../bytes';
import { asCount, fieldIndex, type RecordNode } from '../script';
import type { WriteEvaluation } from './write-evaluation';

/** Payloads up to this length are cut up in memory. */
const MOST_HELD = 16 << 20;

/**
 * Cuts new payloads for entries that lie in several pieces. As many bytes as before are cut as they were;
 * more or fewer are shared out in the proportion of the pieces, in whole units, and the last takes the rest.
 */
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
    let from = 0;
    let behind = 0;
    pieces.forEach((piece, i) => {
      behind += piece.fieldLength(fieldIndex(piece, payload.field));
      const share = (behind / Math.max(1, entry.storedSize)) * stored.length;
      const whole = stored.length === entry.storedSize ? behind : Math.round(share / unit) * unit;
      const to = i === pieces.length - 1 ? stored.length : Math.max(from, Math.min(whole, stored.length));
      cuts.set(piece, sliceOf(ref, from, to - from));
      from = to;
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
