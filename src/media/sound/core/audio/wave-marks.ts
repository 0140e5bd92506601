/** A chunk to be written. */
export interface NewChunk {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Marks in a sound: loops (`smpl`), cues (`cue `), and labels and notes for them (`LIST` of the form `adtl`). */
const MARKS = new Set(['smpl', 'cue ', 'inst']);
const isLabels = ({ name, bytes }: NewChunk): boolean =>
  name === 'LIST' && String.fromCharCode(...bytes.subarray(0, 4)) === 'adtl';
export const isMark = (chunk: NewChunk): boolean => MARKS.has(chunk.name) || isLabels(chunk);

const LOOP_HEAD = 36;
const LOOP = 24;
const CUE = 24;

/** From where to where a sound loops, in sample frames, both inside. */
export interface Loop {
  readonly from: number;
  readonly to: number;
}

/** The loops that chunks tell of. */
export function loopsOf(chunks: readonly NewChunk[]): Loop[] {
  const found: Loop[] = [];
  for (const { name, bytes } of chunks) {
    if (name !== 'smpl' || bytes.length < LOOP_HEAD) continue;
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const count = view.getUint32(28, true);
    for (let i = 0; i < count && LOOP_HEAD + (i + 1) * LOOP <= bytes.length; i++) {
      const at = LOOP_HEAD + i * LOOP;
      found.push({ from: view.getUint32(at + 8, true), to: view.getUint32(at + 12, true) });
    }
  }
  return found;
}

/** Places of cues, in sample frames. */
export function cuesOf(chunks: readonly NewChunk[]): number[] {
  return chunks.flatMap(({ name, bytes }) => {
    if (name !== 'cue ' || bytes.length < 4) return [];
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
    const count = Math.min(view.getUint32(0, true), Math.floor((bytes.length - 4) / CUE));
    return Array.from({ length: count }, (_, i) => view.getUint32(4 + i * CUE + 20, true));
  });
}

/** The same marks in a sound of another rate and length: each place is moved with the rate, and none lies behind the end. */
export function movedMarks(
  chunks: readonly NewChunk[],
  { from, to, frames }: { readonly from: number; readonly to: number; readonly frames: number },
): NewChunk[] {
  const moved = (place: number): number =>
    Math.max(0, Math.min(frames - 1, from === to ? place : Math.round((place * to) / from)));
  return chunks.map((chunk) => {
    const bytes = chunk.bytes.slice();
    const view = new DataView(bytes.buffer);
    const move = (at: number): void => {
      if (at + 4 <= bytes.length) view.setUint32(at, moved(view.getUint32(at, true)), true);
    };
    if (chunk.name === 'smpl' && bytes.length >= LOOP_HEAD) {
      // Nanoseconds that a frame takes.
      view.setUint32(8, Math.round(1e9 / to), true);
      for (let i = 0; i < loopsOf([chunk]).length; i++) {
        move(LOOP_HEAD + i * LOOP + 8);
        move(LOOP_HEAD + i * LOOP + 12);
      }
    }
    if (chunk.name === 'cue ')
      for (let i = 0; i < cuesOf([chunk]).length; i++) {
        move(4 + i * CUE + 4);
        move(4 + i * CUE + 20);
      }
    return { name: chunk.name, bytes };
  });
}

/** Chunks that say a loop and cues, as most programs read them: `smpl` and `cue `. */
export function markChunks(rate: number, loop: Loop | undefined, cues: readonly number[]): NewChunk[] {
  const chunks: NewChunk[] = [];
  if (loop) {
    const bytes = new Uint8Array(LOOP_HEAD + LOOP);
    const view = new DataView(bytes.buffer);
    view.setUint32(8, Math.round(1e9 / rate), true);
    // The note that sounds as it was recorded; most take 60.
    view.setUint32(12, 60, true);
    view.setUint32(28, 1, true);
    view.setUint32(LOOP_HEAD + 8, loop.from, true);
    view.setUint32(LOOP_HEAD + 12, loop.to, true);
    chunks.push({ name: 'smpl', bytes });
  }
  if (cues.length > 0) {
    const bytes = new Uint8Array(4 + CUE * cues.length);
    const view = new DataView(bytes.buffer);
    view.setUint32(0, cues.length, true);
    for (const [i, place] of cues.entries()) {
      const at = 4 + CUE * i;
      view.setUint32(at, i + 1, true);
      view.setUint32(at + 4, place, true);
      bytes.set([0x64, 0x61, 0x74, 0x61], at + 8);
      view.setUint32(at + 20, place, true);
    }
    chunks.push({ name: 'cue ', bytes });
  }
  return chunks;
}
