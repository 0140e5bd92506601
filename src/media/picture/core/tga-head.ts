/** Bytes of a footer that newer writers of TGA put behind everything else. */
const TGA_FOOTER = 26;
const MOST_SIDE = 32_768;

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

/** Whether a head says just how long the file is: an uncompressed TGA (version 2.0 of its specification), or a plain one in runs. */
export function isTga(head: Uint8Array, length: number): boolean {
  if (!mayBeTga(head)) return false;
  if (head[2]! > 3) return isPlainTga(head);
  const view = viewOf(head);
  const map = view.getUint16(5, true) * Math.ceil(head[7]! / 8) * head[1]!;
  const pixels = view.getUint16(12, true) * view.getUint16(14, true) * Math.ceil(head[16]! / 8);
  const whole = 18 + head[0]! + map + pixels;
  return length === whole || length === whole + TGA_FOOTER;
}
