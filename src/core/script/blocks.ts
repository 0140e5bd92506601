import { FormatError, concatRefs, refOfBytes, refOfSpan, type BytesRef } from '../bytes';
import type { Primitives, Spool } from '../primitives';
import { ChunkPuller } from './chunk-puller';
import type { ResolvedBlocks } from './resolved-step';
import { asInteger } from './values';
import { decodePiece, wrongLength } from './whole-codec';

const alignUp = (at: number, unit: number): number => Math.ceil(at / unit) * unit;

/** Plain bytes of blocks, each decoded when it is asked for. */
export function unblocked(ref: BytesRef, step: ResolvedBlocks, primitives: Primitives): BytesRef {
  const { plain, total, table, sizes, codec, settings } = step;
  const count = Math.ceil(total / plain);
  return {
    length: total,
    *chunks() {
      const puller = new ChunkPuller(ref);
      const pull = (wanted: number, why: string): Uint8Array => {
        if (wanted > puller.left)
          throw new FormatError('truncated', {
            expected: `${wanted} bytes`,
            actual: `${puller.left} left`,
            why,
          });
        return puller.take(wanted);
      };
      const readSize = (bytes: Uint8Array, at: number): number =>
        Number(
          asInteger(
            table!.scalar.read(new DataView(bytes.buffer, bytes.byteOffset, bytes.length), at, table!.little),
          ),
        );
      const width = table?.scalar.size ?? 0;
      const front =
        table && !table.each
          ? pull(count * width, `the entry claims ${total} plain bytes, a table of ${count} blocks`).slice()
          : undefined;
      if (sizes && sizes.length < count)
        throw new FormatError('bad-value', {
          expected: `sizes of ${count} blocks`,
          actual: `${sizes.length}`,
        });
      for (let block = 0, at = front?.length ?? 0; block < count; block++) {
        const where = `in block ${block} of ${count}`;
        const skipped = alignUp(at, step.align) - at;
        pull(skipped, where);
        at += skipped;
        let size: number;
        if (front) size = readSize(front, block * width);
        else if (table) {
          size = readSize(pull(width, where), 0);
          at += width;
        } else size = sizes?.[block] ?? puller.left;
        const expected = Math.min(plain, total - block * plain);
        const isMarked = step.rawBit > 0 && size >= step.rawBit;
        const length = isMarked ? size - step.rawBit : size;
        const raw = isMarked || (step.rawWhenFull && length === expected);
        const bytes = pull(length, where);
        at += length;
        const out = raw ? bytes : decodePiece(codec, bytes, expected, primitives, settings);
        if (out.length !== expected) throw wrongLength(codec.name, expected, out.length).with({ why: where });
        yield out;
      }
      if (puller.left > 0)
        throw new FormatError('bad-value', {
          expected: 'nothing after the last block',
          actual: `${puller.left} bytes`,
        });
    },
  };
}

/**
 * The first plain bytes from the first stored ones, of the first block alone; undefined where the table is longer than what is there, or
 * where the codec gives no beginning. Nothing is checked: this is for a look at what something is.
 */
export function startOfBlocks(
  stored: Uint8Array,
  step: ResolvedBlocks,
  primitives: Primitives,
): Uint8Array | undefined {
  const { plain, total, table, sizes, codec } = step;
  const width = table?.scalar.size ?? 0;
  const view = new DataView(stored.buffer, stored.byteOffset, stored.length);
  const front = table && !table.each ? Math.ceil(total / plain) * width : 0;
  let at = alignUp(front, step.align);
  if (front + (table?.each ? width : 0) >= stored.length || at >= stored.length) return undefined;
  let size = sizes?.[0] ?? stored.length - at;
  if (table) {
    size = Number(asInteger(table.scalar.read(view, table.each ? at : 0, table.little)));
    if (table.each) at += width;
  }
  const isMarked = step.rawBit > 0 && size >= step.rawBit;
  const length = isMarked ? size - step.rawBit : size;
  const bytes = stored.subarray(at, at + length);
  if (isMarked || (step.rawWhenFull && length === Math.min(plain, total))) return bytes;
  return codec.start?.(bytes, primitives);
}

/** Plain bytes cut into blocks and encoded, with their table where the step has one. */
export function blocked(
  ref: BytesRef,
  step: ResolvedBlocks,
  primitives: Primitives,
  spools: Spool[],
): { stored: BytesRef; sizes: number[] } {
  const { plain, table, codec, settings } = step;
  const count = Math.ceil(ref.length / plain);
  const width = table?.scalar.size ?? 0;
  const front = new Uint8Array(table && !table.each ? count * width : 0);
  const spool = primitives.spool();
  spools.push(spool);
  const puller = new ChunkPuller(ref);
  const sizes: number[] = [];
  let at = front.length;
  const write = (bytes: Uint8Array): void => {
    spool.write(bytes);
    at += bytes.length;
  };
  for (let block = 0; block < count; block++) {
    if (alignUp(at, step.align) > at) write(new Uint8Array(alignUp(at, step.align) - at));
    const bytes = puller.take(Math.min(plain, puller.left));
    const packed = codec.encode(bytes, primitives, settings);
    // A block as long as its plain bytes would be taken for a stored one.
    const raw = (step.rawBit > 0 || step.rawWhenFull) && packed.length >= bytes.length;
    const out = raw ? bytes : packed;
    const size = raw ? step.rawBit + out.length : out.length;
    sizes.push(size);
    if (table?.each) {
      const head = new Uint8Array(width);
      table.scalar.write(new DataView(head.buffer), 0, size, table.little);
      write(head);
    } else if (table) table.scalar.write(new DataView(front.buffer), block * width, size, table.little);
    write(out);
  }
  return {
    stored: concatRefs([refOfBytes(front), refOfSpan(spool.source, 0, spool.source.length)]),
    sizes,
  };
}
