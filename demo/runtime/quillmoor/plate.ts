import zlib from 'node:zlib';
import { Stall } from '../common/stall';

const MARK = Buffer.from('89504e470d0a1a0a', 'hex');

export interface Plate {
  readonly width: number;
  readonly height: number;
  readonly png: Buffer;
}

/** Checks a picture as the engine does: its chunks, their sums, and that its rows are all there (PNG, ISO/IEC 15948). */
export function readPlate(png: Buffer, what: string): Plate {
  if (!png.subarray(0, 8).equals(MARK))
    throw new Stall(what, 'mask', 'what comes out from under it is no picture: another name or seed');
  const data: Buffer[] = [];
  let [at, width, height, isEnded] = [8, 0, 0, false];
  while (!isEnded) {
    if (at + 12 > png.length) throw new Stall(what, `byte ${at}`, 'the picture ends early');
    const size = png.readUInt32BE(at);
    const name = png.toString('latin1', at + 4, at + 8);
    if (at + 12 + size > png.length) throw new Stall(what, `${name} size`, 'it leads out of the picture');
    const body = png.subarray(at + 8, at + 8 + size);
    if (zlib.crc32(png.subarray(at + 4, at + 8 + size)) !== png.readUInt32BE(at + 8 + size))
      throw new Stall(what, `${name} check`, 'the bytes do not check');
    if (name === 'IHDR') [width, height] = [body.readUInt32BE(0), body.readUInt32BE(4)];
    if (name === 'IDAT') data.push(body);
    isEnded = name === 'IEND';
    at += 12 + size;
  }
  let rows = 0;
  try {
    rows = zlib.inflateSync(Buffer.concat(data)).length;
  } catch {
    throw new Stall(what, 'rows', 'they cannot be unpacked');
  }
  if (width * height === 0 || rows < height) throw new Stall(what, 'rows', 'some are missing');
  return { width, height, png };
}
