import type { PixelLayout } from './pixel-layout';
import type { Pixels } from './pixels';

/** One level in two versions: its texels, and the bytes that they are stored in. */
export interface StoredLevel {
  readonly pixels: Pixels;
  readonly stored: Uint8Array;
}

export interface KeptBlocks {
  readonly stored: Uint8Array;
  /** Blocks that were taken over as they were, and all that there are. */
  readonly kept: number;
  readonly all: number;
}

/**
 * Takes the stored bytes of every block whose texels did not change from the level before, so that what nobody touched is not coded
 * anew. `before.pixels` is what those bytes decode to. Where texels are stored alone a block is one texel. Both levels have the same
 * size.
 */
export function keepUnchanged(layout: PixelLayout, before: StoredLevel, after: StoredLevel): KeptBlocks {
  const { block } = layout;
  const { width, height } = after.pixels;
  const across = Math.ceil(width / block);
  const all = across * Math.ceil(height / block);
  const each = layout.levelLength(block, block);
  if (each * all !== after.stored.length || each * all > before.stored.length)
    return { stored: after.stored, kept: 0, all };
  const stored = after.stored.slice();
  // Texels side by side are compared at once.
  const [old, now] = [rowsOf(before.pixels), rowsOf(after.pixels)];
  let kept = 0;
  for (let at = 0, top = 0; top < height; top += block)
    for (let left = 0; left < width; left += block, at++) {
      if (
        !isSameBlock(old, now, width, left, top, Math.min(block, width - left), Math.min(block, height - top))
      )
        continue;
      stored.set(before.stored.subarray(at * each, (at + 1) * each), at * each);
      kept++;
    }
  return { stored, kept, all };
}

const rowsOf = ({ data }: Pixels): Uint32Array => {
  const aligned = data.byteOffset % 4 === 0 ? data : data.slice();
  return new Uint32Array(aligned.buffer, aligned.byteOffset, aligned.length >> 2);
};

function isSameBlock(
  a: Uint32Array,
  b: Uint32Array,
  width: number,
  left: number,
  top: number,
  columns: number,
  rows: number,
): boolean {
  for (let y = top; y < top + rows; y++)
    for (let i = y * width + left, end = i + columns; i < end; i++) if (a[i] !== b[i]) return false;
  return true;
}
