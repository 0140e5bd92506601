import zlib from 'node:zlib';
import type { Picture } from '../common/picture';
import { Stall } from '../common/stall';
import { inDeskOrder, pictureOf } from './pictures';

/** Where the game finds two pictures in the ground; no table tells of them. */
const IN_GROUND = [
  { name: 'ground view', from: 700, width: 128, height: 64 },
  { name: 'ground board', from: 700 + 4096 + 333, width: 64, height: 64 },
] as const;

export interface Harbour {
  machine: 'desk' | 'hand';
  berths: number;
  pictures: Map<string, Picture>;
}

/** Reads a harbour of either machine, with the pictures that its table tells of and those in its ground. */
export function readHarbour(bytes: Buffer, what: string): Harbour {
  if (bytes.length < 18 || bytes.toString('latin1', 0, 4) !== 'HARB')
    throw new Stall(what, 'harbour tag', 'this is no harbour');
  const isHand = bytes[4] === 2;
  if (!isHand && bytes[4] !== 1) throw new Stall(what, 'machine', `${bytes[4]} is none`);
  if (bytes[5] !== 3) throw new Stall(what, 'version', `${bytes[5]} instead of 3`);
  const u16 = (at: number): number =>
    within(at, 2) && (isHand ? bytes.readUInt16BE(at) : bytes.readUInt16LE(at));
  const u32 = (at: number): number =>
    within(at, 4) && (isHand ? bytes.readUInt32BE(at) : bytes.readUInt32LE(at));
  const within = (at: number, length: number): number => {
    if (at + length > bytes.length) throw new Stall(what, 'length', `it ends before byte ${at + length}`);
    return 1;
  };
  if (u32(8) !== bytes.length)
    throw new Stall(what, 'size', `${bytes.length} bytes, the head says ${u32(8)}`);
  const berths = u16(16);
  let at = 18;
  for (let i = 0; i < berths; i++) {
    within(at, 1);
    at += 1 + bytes[at]! + 8;
  }
  const pictures = new Map<string, Picture>();
  for (;;) {
    at = 16 * Math.ceil(at / 16);
    within(at, 16);
    const tag = bytes.toString('latin1', at, at + 4);
    const size = u32(at + 4);
    within(at + 16, size);
    const data = bytes.subarray(at + 16, at + 16 + size);
    if (u32(at + 8) !== zlib.crc32(data)) throw new Stall(what, `check of ${tag}`, 'the bytes do not check');
    at += 16 + size;
    if (tag === 'LAST') break;
    if (tag === 'PICT') {
      const name = data.toString('latin1', 4, 16).replace(/\0.*$/, '');
      const [width, height] = isHand
        ? [data.readUInt16BE(0), data.readUInt16BE(2)]
        : [data.readUInt16LE(0), data.readUInt16LE(2)];
      pictures.set(
        name,
        pictureOf(inDeskOrder(data.subarray(16), isHand), 2, width, height, `${what}, ${name}`),
      );
    } else if (tag === 'TERR')
      for (const { name, from, width, height } of IN_GROUND) {
        const texels = inDeskOrder(data.subarray(from, from + (width * height) / 2), isHand);
        pictures.set(name, pictureOf(texels, 2, width, height, `${what}, ${name}`));
      }
  }
  if (u32(12) !== [...pictures.keys()].filter((name) => !name.startsWith('ground')).length)
    throw new Stall(what, 'picture count', `${u32(12)} in the head`);
  return { machine: isHand ? 'hand' : 'desk', berths, pictures };
}
