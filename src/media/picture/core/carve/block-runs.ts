/** What a buried picture of blocks is coded in, as far as its bytes can tell. */
export type RunLayout = 'bc1' | 'bc1-swapped' | 'bc3' | 'bc3-swapped';

/** A stretch of blocks that look like those of one picture. */
export interface BlockRun {
  readonly layout: RunLayout;
  /** Of the first block, in bytes. */
  readonly offset: number;
  readonly blocks: number;
}

/** So many blocks in a row are hardly ever in order by chance: once in 2 to this power. */
const LEAST_BLOCKS = 48;
/** So many blocks of a picture have two different ends at least; the others are one colour. */
const LEAST_DIFFERENT = 6;

/**
 * Finds stretches where blocks of BC1 or BC3 may lie. The two ends of each block's colours, of 16 bits each, are in order in what
 * encoders write (the first is not the smaller one, which means four colours), while in other data either order is as likely. A
 * stretch that is in order for dozens of blocks, at one place within eight or sixteen bytes, is no chance. What is all one value, as
 * zeros are, is passed over, and so are texts and tables, whose ends seldom keep one order. Stretches of several layouts may share
 * bytes; which of them it is only its colours can tell.
 */
export function findBlockRuns(bytes: Uint8Array): BlockRun[] {
  const found: BlockRun[] = [];
  for (const swapped of [false, true]) {
    const suffix = swapped ? '-swapped' : '';
    for (let phase = 0; phase < 8; phase++)
      runs(bytes, phase, 8, 0, swapped, `bc1${suffix}` as RunLayout, found);
    // Of BC3 the second half of each block has the colours; the first half is alpha.
    for (let phase = 0; phase < 16; phase++)
      runs(bytes, phase, 16, 8, swapped, `bc3${suffix}` as RunLayout, found);
  }
  return found;
}

function runs(
  bytes: Uint8Array,
  phase: number,
  each: number,
  colours: number,
  swapped: boolean,
  layout: RunLayout,
  found: BlockRun[],
): void {
  const [low, high] = swapped ? [1, 0] : [0, 1];
  let from = phase;
  let different = 0;
  let at = phase;
  const close = (): void => {
    const blocks = (at - from) / each;
    if (blocks >= LEAST_BLOCKS && different >= LEAST_DIFFERENT) found.push({ layout, offset: from, blocks });
  };
  for (; at + each <= bytes.length; at += each) {
    const spot = at + colours;
    const first = bytes[spot + low]! | (bytes[spot + high]! << 8);
    const second = bytes[spot + 2 + low]! | (bytes[spot + 2 + high]! << 8);
    if (first < second) {
      close();
      from = at + each;
      different = 0;
    } else if (first > second) different++;
  }
  close();
}
