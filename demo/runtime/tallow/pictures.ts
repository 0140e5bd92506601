import zlib from 'node:zlib';
import { unblock, type Picture } from '../common/picture';
import { Stall } from '../common/stall';

const BC1 = 2;
/** Layouts of a print by the number in its head. */
const LAYOUTS = new Map([
  [4, 1],
  [11, BC1],
]);

function adler32(bytes: Buffer): number {
  let [a, b] = [1, 0];
  for (const byte of bytes) {
    a = (a + byte) % 65521;
    b = (b + a) % 65521;
  }
  return b * 65536 + a;
}

/** Reads a print: a short head, highest bytes first, then texels under zlib. */
export function readPrint(bytes: Buffer, what: string): Picture {
  if (bytes.length < 24 || bytes.toString('latin1', 0, 4) !== 'PRNT')
    throw new Stall(what, 'print tag', 'this is no print');
  const [width, height] = [bytes.readUInt16BE(4), bytes.readUInt16BE(6)];
  const layout = LAYOUTS.get(bytes[8]!);
  if (layout === undefined) throw new Stall(what, 'print layout', `${bytes[8]} is none that the game has`);
  const packed = bytes.subarray(24);
  if (bytes.readUInt32BE(16) !== packed.length)
    throw new Stall(what, 'print size', `${packed.length} bytes follow, not ${bytes.readUInt32BE(16)}`);
  if (bytes.readUInt32BE(20) !== adler32(packed))
    throw new Stall(what, 'print check', 'the bytes do not check');
  const size = bytes.readUInt32BE(12);
  let texels: Buffer;
  try {
    texels = zlib.inflateSync(packed, { maxOutputLength: size + 1 });
  } catch (error) {
    throw new Stall(what, 'print packing', error instanceof Error ? error.message : 'broken');
  }
  if (texels.length !== size)
    throw new Stall(what, 'print plain size', `${texels.length} instead of ${size}`);
  return pictureOf(texels, layout, width, height, what);
}

/** A picture from texels alone. */
export function pictureOf(
  texels: Buffer,
  layout: number,
  width: number,
  height: number,
  what: string,
): Picture {
  const wanted = layout === BC1 ? Math.ceil(width / 4) * Math.ceil(height / 4) * 8 : width * height * 4;
  if (texels.length < wanted)
    throw new Stall(what, 'texels', `${texels.length} bytes, ${width} by ${height} take ${wanted}`);
  const rgba = layout === BC1 ? unblock(texels, BC1, width, height) : Buffer.from(texels.subarray(0, wanted));
  return { width, height, layout, rgba };
}

/** The blocks of a machine in the desk's order of bytes: the hand's has those of each word exchanged. */
export const inDeskOrder = (texels: Buffer, isHand: boolean): Buffer =>
  isHand ? Buffer.from(texels.subarray(0, texels.length & ~1)).swap16() : texels;
