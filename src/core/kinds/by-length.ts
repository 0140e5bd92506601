import type { HeadType } from './signs';

/** Bytes of a footer that newer writers of TGA put behind everything else. */
const TGA_FOOTER = 26;
const MOST_SIDE = 32_768;

/**
 * Formats without a sign whose head says how long all of it is, which chance would hardly get right: uncompressed TGA (version 2.0 of
 * its specification) and STL in its binary form.
 */
export function typeOfLength(head: Uint8Array, length: number): HeadType | undefined {
  if (isTga(head, length)) return { kind: 'picture', ending: 'tga' };
  return isBinaryStl(head, length) ? { kind: 'model', ending: 'stl' } : undefined;
}

const viewOf = (head: Uint8Array): DataView => new DataView(head.buffer, head.byteOffset, head.length);

/** Whether a head may be one of a TGA, compressed or not. */
export function mayBeTga(head: Uint8Array): boolean {
  if (head.length < 18) return false;
  const [, map = 2, sort = 0] = head;
  const view = viewOf(head);
  const [width, height, bits] = [view.getUint16(12, true), view.getUint16(14, true), head[16]!];
  const indexed = sort === 1 || sort === 9;
  return (
    map <= 1 &&
    [1, 2, 3, 9, 10, 11].includes(sort) &&
    (!indexed || map === 1) &&
    (indexed ? [8, 16] : [8, 15, 16, 24, 32]).includes(bits) &&
    [0, 15, 16, 24, 32].includes(head[7]!) &&
    width > 0 &&
    height > 0 &&
    width <= MOST_SIDE &&
    height <= MOST_SIDE &&
    (head[17]! & 0xc0) === 0
  );
}

/** A TGA in runs says nothing of its length; one whose head has all that writers leave empty is believed. */
function isPlainTga(head: Uint8Array): boolean {
  const view = viewOf(head);
  const isEmpty = [0, 1, 3, 4, 5, 6, 7, 8, 9].every((at) => head[at] === 0);
  const [y, height] = [view.getUint16(10, true), view.getUint16(14, true)];
  const alpha = head[17]! & 15;
  const bits = head[16]!;
  const fits =
    head[2] === 10
      ? (bits === 24 && alpha === 0) || (bits === 32 && (alpha === 8 || alpha === 0))
      : bits === 8;
  return isEmpty && (y === 0 || y === height) && fits;
}

function isTga(head: Uint8Array, length: number): boolean {
  if (!mayBeTga(head)) return false;
  if (head[2]! > 3) return isPlainTga(head);
  const view = viewOf(head);
  const map = view.getUint16(5, true) * Math.ceil(head[7]! / 8) * head[1]!;
  const pixels = view.getUint16(12, true) * view.getUint16(14, true) * Math.ceil(head[16]! / 8);
  const whole = 18 + head[0]! + map + pixels;
  return length === whole || length === whole + TGA_FOOTER;
}

/** Eighty bytes of anything, a count, and fifty bytes for each triangle. */
function isBinaryStl(head: Uint8Array, length: number): boolean {
  if (head.length < 84) return false;
  const count = viewOf(head).getUint32(80, true);
  return count > 0 && length === 84 + 50 * count;
}
