import { FormatError } from '@/core/bytes';

export const INDEX_FORMS = ['u8', 'u16', 'u32'] as const;
export type IndexForm = (typeof INDEX_FORMS)[number];
const BYTES: Readonly<Record<IndexForm, number>> = { u8: 1, u16: 2, u32: 4 };
/** The highest number that an index of a form can be. */
export const highestIndex = (form: IndexForm): number => 2 ** (8 * BYTES[form]) - 1;

/** The numbers from 0 to before another one. */
export function upTo(count: number): Uint32Array {
  const out = new Uint32Array(count);
  for (let i = 0; i < count; i++) out[i] = i;
  return out;
}

/** Reads the corners of triangles, each the number of a vertex. */
export function readIndices(bytes: Uint8Array, form: IndexForm, isLittle: boolean): Uint32Array {
  const each = BYTES[form];
  const count = Math.floor(bytes.length / each);
  const out = new Uint32Array(count);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (form === 'u8') out.set(bytes);
  else if (form === 'u16') for (let i = 0; i < count; i++) out[i] = view.getUint16(2 * i, isLittle);
  else for (let i = 0; i < count; i++) out[i] = view.getUint32(4 * i, isLittle);
  return out;
}

/** Writes corners. Throws FormatError where a number is too large for the form. */
export function writeIndices(corners: Uint32Array, form: IndexForm, isLittle: boolean): Uint8Array {
  const each = BYTES[form];
  const most = highestIndex(form);
  const out = new Uint8Array(corners.length * each);
  const view = new DataView(out.buffer);
  for (let i = 0; i < corners.length; i++) {
    const corner = corners[i]!;
    if (corner > most)
      throw new FormatError('does-not-fit', {
        ...{ fieldPath: `triangles[${Math.floor(i / 3)}]`, expected: `a vertex up to ${most}` },
        actual: `${corner}`,
      });
    if (form === 'u8') out[i] = corner;
    else if (form === 'u16') view.setUint16(2 * i, corner, isLittle);
    else view.setUint32(4 * i, corner, isLittle);
  }
  return out;
}

/**
 * The triangles of a strip: each corner makes one with the two before it, every other one turned over. `ends` begins a new strip; triangles
 * without a surface, which join strips, are left out.
 */
export function fromStrip(corners: Uint32Array, ends: number | undefined): Uint32Array {
  const out: number[] = [];
  let start = 0;
  for (let i = 0; i <= corners.length; i++) {
    if (i < corners.length && corners[i] !== ends) continue;
    for (let at = start; at + 2 < i; at++) {
      const [a, b, c] = [corners[at]!, corners[at + 1]!, corners[at + 2]!];
      if (a === b || b === c || a === c) continue;
      if ((at - start) % 2 === 0) out.push(a, b, c);
      else out.push(b, a, c);
    }
    start = i + 1;
  }
  return Uint32Array.from(out);
}

/**
 * A strip of triangles in the order in which they come: where one shares its last two corners with the next, it goes on; else two
 * corners stand twice, which draws nothing. Longer than the best one, and draws the very same triangles.
 */
export function toStrip(triangles: Uint32Array): Uint32Array {
  const out: number[] = [];
  for (let i = 0; i + 2 < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i]!, triangles[i + 1]!, triangles[i + 2]!];
    const at = out.length;
    const [last, end] = [out[at - 2], out[at - 1]];
    // The next triangle of a strip begins at its second corner from the end; every other one is turned over.
    const goesOn =
      at >= 3 && (at % 2 === 0 ? sameTurn(last!, end!, a, b, c) : sameTurn(end!, last!, a, b, c));
    if (goesOn !== undefined && goesOn !== false) out.push(goesOn);
    else {
      if (at > 0) out.push(end!, a);
      // A turn at an odd place would come out from behind.
      if (out.length % 2 === 1) out.push(a);
      out.push(a, b, c);
    }
  }
  return Uint32Array.from(out);
}

/** The third corner of a triangle whose first two are these, in this turn; false where it has others. */
function sameTurn(first: number, second: number, a: number, b: number, c: number): number | false {
  if (first === a && second === b) return c;
  if (first === b && second === c) return a;
  if (first === c && second === a) return b;
  return false;
}
