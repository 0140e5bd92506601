import zlib from 'node:zlib';
import { encodeAdpcm, nibbleBytes } from '../adpcm';
import { adler32, OutBytes } from '../out-bytes';
import { encode, type Pixels } from '../sheet-writer';

/** A wrapped picture: a short head, then texels under zlib. Highest bytes first. */
export function writePrint(pixels: Pixels, layout: 'bc1' | 'rgba8'): Buffer {
  const texels = encode(pixels, layout);
  const packed = zlib.deflateSync(texels, { level: 9 });
  const out = new OutBytes(true).text('PRNT', 4).u16(pixels.width).u16(pixels.height);
  out
    .u8(layout === 'bc1' ? 11 : 4)
    .u8(1)
    .u16(0);
  out.u32(texels.length).u32(packed.length).u32(adler32(packed));
  return out.bytes(packed).whole();
}

export type CallKind = 'near' | 'far';

/**
 * A sound of four bits a sample. The two kinds look alike: one has earlier samples in the low half of a byte and
 * its first sample in the head, the other has them in the high half and begins at nothing.
 */
export function writeCall(wave: Buffer, kind: CallKind): Buffer {
  const { first, nibbles } = encodeAdpcm(kind === 'near' ? wave : silenceFirst(wave));
  const data = nibbleBytes(nibbles, kind === 'near');
  const out = new OutBytes(true)
    .text('CALL', 4)
    .u8(kind === 'near' ? 0 : 1)
    .u8(1)
    .u16(wave.readUInt32LE(24));
  out
    .u32(nibbles.length)
    .u32(data.length)
    .u16(kind === 'near' ? first : 0)
    .u16(0);
  return out
    .u32(data.reduce((sum, byte) => (sum + byte) >>> 0, 0))
    .bytes(data)
    .whole();
}

function silenceFirst(wave: Buffer): Buffer {
  const out = Buffer.from(wave);
  out.writeInt16LE(0, 44);
  return out;
}

/** A thing that stands in a harbour. */
export interface Berth {
  name: string;
  x: number;
  y: number;
}

export interface Harbour {
  berths: Berth[];
  /** What the ground is made of, with pictures among it that no table tells of. */
  ground: Buffer;
  pictures: { pixels: Pixels; name: string }[];
}

/** A harbour for one of two machines: the desk's has lowest bytes first, the hand's highest bytes first. */
export function writeHarbour({ berths, ground, pictures }: Harbour, machine: 'desk' | 'hand'): Buffer {
  const isHand = machine === 'hand';
  const body = new OutBytes(isHand);
  body.u16(berths.length);
  for (const { name, x, y } of berths) {
    const length = Buffer.byteLength(name);
    body.u8(length).text(name, length).number(x, 4).number(y, 4);
  }
  const slab = (tag: string, data: Buffer): void => {
    body.align(16, 0xcd).text(tag, 4).u32(data.length).u32(zlib.crc32(data)).u32(0).bytes(data);
  };
  slab('TERR', ground);
  for (const { pixels, name } of pictures) {
    const texels = texelsFor(pixels, machine);
    const head = new OutBytes(isHand).u16(pixels.width).u16(pixels.height).text(name, 12).whole();
    slab('PICT', Buffer.concat([head, texels]));
  }
  slab('LAST', Buffer.alloc(0));
  const bytes = body.whole();
  const head = new OutBytes(isHand)
    .text('HARB', 4)
    .u8(isHand ? 2 : 1)
    .u8(3)
    .u16(0);
  head.u32(bytes.length + 16).u32(pictures.length);
  return Buffer.concat([head.whole(), bytes]);
}

/** A picture as the machine keeps it: the hand's has the words of its blocks the other way round. */
export const texelsFor = (pixels: Pixels, machine: 'desk' | 'hand'): Buffer => {
  const texels = encode(pixels, 'bc1');
  return machine === 'hand' ? turned(texels) : texels;
};

/** Words of 16 bits with their bytes exchanged. */
const turned = (bytes: Buffer): Buffer => Buffer.from(bytes).swap16();
