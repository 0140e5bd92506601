import { FormatError } from '@/core/bytes';
import { placesOf, readDds } from '../texture';

/** A file that lies within another one, told by how it begins. */
export interface SignedFile {
  readonly ending: 'png' | 'dds' | 'ktx2' | 'jpg' | 'webp';
  readonly offset: number;
  readonly length: number;
}

const MOST_FOUND = 4096;
const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** How each kind begins, and how its end is told; undefined where what begins so is none after all. */
const KINDS: readonly {
  ending: SignedFile['ending'];
  mark: readonly number[];
  lengthOf: (bytes: Uint8Array) => number | undefined;
}[] = [
  { ending: 'png', mark: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a], lengthOf: pngLength },
  { ending: 'dds', mark: [0x44, 0x44, 0x53, 0x20, 124, 0, 0, 0], lengthOf: ddsLength },
  { ending: 'ktx2', mark: [0xab, 0x4b, 0x54, 0x58, 0x20, 0x32, 0x30, 0xbb], lengthOf: ktx2Length },
  { ending: 'jpg', mark: [0xff, 0xd8, 0xff], lengthOf: jpegLength },
  { ending: 'webp', mark: [0x52, 0x49, 0x46, 0x46], lengthOf: webpLength },
];

/** Finds pictures in common formats within other bytes, each with its own length. What lies within one is not looked at again. */
export function findSigned(bytes: Uint8Array): SignedFile[] {
  const found: SignedFile[] = [];
  for (let at = 0; at + 8 <= bytes.length && found.length < MOST_FOUND;) {
    const kind = KINDS.find(({ mark }) => mark.every((value, i) => bytes[at + i] === value));
    const length = kind?.lengthOf(bytes.subarray(at));
    if (kind && length !== undefined && at + length <= bytes.length) {
      found.push({ ending: kind.ending, offset: at, length });
      at += length;
    } else at++;
  }
  return found;
}

/** Chunk by chunk to IEND (PNG, ISO/IEC 15948). */
function pngLength(bytes: Uint8Array): number | undefined {
  const data = view(bytes);
  for (let at = 8; at + 12 <= bytes.length;) {
    const length = data.getUint32(at);
    const isEnd = data.getUint32(at + 4) === 0x49454e44;
    at += 12 + length;
    if (isEnd) return at;
  }
  return undefined;
}

/** Up to the marker of its end, over segments and their coded data (JPEG, ISO/IEC 10918-1). */
function jpegLength(bytes: Uint8Array): number | undefined {
  for (let at = 2; at + 4 <= bytes.length;) {
    if (bytes[at] !== 0xff) return undefined;
    const marker = bytes[at + 1]!;
    if (marker === 0xd9) return at + 2;
    if (marker < 0xc0 || (marker >= 0xd0 && marker <= 0xd7)) return undefined;
    at += 2 + ((bytes[at + 2]! << 8) | bytes[at + 3]!);
    if (marker !== 0xda) continue;
    // Coded data: a marker in it is stuffed with a zero, or one of those that part it.
    while (at + 1 < bytes.length && !(bytes[at] === 0xff && !isWithin(bytes[at + 1]!))) at++;
  }
  return bytes.length >= 4 && bytes.at(-2) === 0xff && bytes.at(-1) === 0xd9 ? bytes.length : undefined;
}

const isWithin = (next: number): boolean => next === 0 || (next >= 0xd0 && next <= 0xd7);

function webpLength(bytes: Uint8Array): number | undefined {
  if (bytes.length < 12 || String.fromCharCode(...bytes.subarray(8, 12)) !== 'WEBP') return undefined;
  const length = 8 + view(bytes).getUint32(4, true);
  return length + (length % 2);
}

/** Head and all images, as the head tells them. */
function ddsLength(bytes: Uint8Array): number | undefined {
  try {
    const texture = readDds(bytes, 'buried');
    const last = texture.image(placesOf(texture).at(-1)!);
    return last.byteOffset - bytes.byteOffset + last.length;
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

/** The end of what lies last: a level, the description, or what is shared (KTX 2.0, section 3). */
function ktx2Length(bytes: Uint8Array): number | undefined {
  if (bytes.length < 80) return undefined;
  const data = view(bytes);
  const levels = Math.max(1, data.getUint32(40, true));
  if (levels > 32 || bytes.length < 80 + 24 * levels) return undefined;
  let end = 80 + 24 * levels;
  for (const [offset, length] of [
    [48, 52],
    [56, 60],
  ] as const)
    end = Math.max(end, data.getUint32(offset, true) + data.getUint32(length, true));
  const long = (at: number): number => Number(data.getBigUint64(at, true));
  end = Math.max(end, long(64) + long(72));
  for (let level = 0; level < levels; level++)
    end = Math.max(end, long(80 + 24 * level) + long(88 + 24 * level));
  return end;
}
