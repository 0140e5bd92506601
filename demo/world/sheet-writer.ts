import zlib from 'node:zlib';
import { bc7Block } from './bc7';

/** Pixel layouts of a sheet and the numbers that stand for them in its head. */
export const LAYOUTS = { rgba8: 1, bc1: 2, bc3: 3, bc7: 4 } as const;
export type Layout = keyof typeof LAYOUTS;

export interface Pixels {
  width: number;
  height: number;
  /** Red, green, blue, alpha, a byte each. */
  data: Buffer;
}

const to565 = (r: number, g: number, b: number): number => ((r >> 3) << 11) | ((g >> 2) << 5) | (b >> 3);
const from565 = (c: number): [number, number, number] => [
  Math.round(((c >> 11) * 255) / 31),
  Math.round((((c >> 5) & 63) * 255) / 63),
  Math.round(((c & 31) * 255) / 31),
];

/** The 16 texels of a block one after the other, edges repeated. */
function block(pixels: Pixels, bx: number, by: number, texels: Uint8Array): void {
  for (let i = 0; i < 16; i++) {
    const y = Math.min(pixels.height - 1, by * 4 + (i >> 2));
    const x = Math.min(pixels.width - 1, bx * 4 + (i & 3));
    const at = 4 * (y * pixels.width + x);
    for (let c = 0; c < 4; c++) texels[4 * i + c] = pixels.data[at + c]!;
  }
}

function distance(a: ArrayLike<number>, i: number, b: ArrayLike<number>, j: number): number {
  const red = a[i]! - b[j]!;
  const green = a[i + 1]! - b[j + 1]!;
  const blue = a[i + 2]! - b[j + 2]!;
  return red * red + green * green + blue * blue;
}

/** Packs the two texels that are furthest apart, transparent ones aside; the greater number first. */
function ends(texels: Uint8Array): [number, number] {
  let solid = 0;
  for (let i = 0; i < 16; i++) if (texels[4 * i + 3]! > 8) solid |= 1 << i;
  if (solid === 0) solid = 0xffff;
  let from = 31 - Math.clz32(solid & -solid);
  let to = from;
  let most = 0;
  for (let a = from; a < 16; a++) {
    if (!(solid & (1 << a))) continue;
    for (let b = a + 1; b < 16; b++) {
      if (!(solid & (1 << b))) continue;
      const far = distance(texels, 4 * a, texels, 4 * b);
      if (far <= most) continue;
      most = far;
      from = a;
      to = b;
    }
  }
  const first = to565(texels[4 * from]!, texels[4 * from + 1]!, texels[4 * from + 2]!);
  const second = to565(texels[4 * to]!, texels[4 * to + 1]!, texels[4 * to + 2]!);
  return first > second ? [first, second] : [second, first];
}

/** Eight bytes of colour: the two texels furthest apart as ends, and for each texel the nearest of four. */
function colourBlock(texels: Uint8Array, out: Buffer, at: number): void {
  const [c0, c1] = ends(texels);
  const palette = new Float64Array(12);
  from565(c0).forEach((v, c) => (palette[c] = v));
  from565(c1).forEach((v, c) => (palette[3 + c] = v));
  for (let c = 0; c < 3; c++)
    for (let k = 1; k < 3; k++) palette[3 + 3 * k + c] = (palette[c]! * (3 - k) + palette[3 + c]! * k) / 3;
  out.writeUInt16LE(c0, at);
  out.writeUInt16LE(c1, at + 2);
  let bits = 0;
  // With equal ends the third and fourth colour would mean something else.
  for (let i = 15; c0 !== c1 && i >= 0; i--) {
    let best = 0;
    for (let k = 1; k < 4; k++)
      if (distance(texels, 4 * i, palette, 3 * k) < distance(texels, 4 * i, palette, 3 * best)) best = k;
    bits = bits * 4 + best;
  }
  out.writeUInt32LE(bits, at + 4);
}

/** Eight bytes of alpha: largest and smallest, and for each texel the nearest of eight steps. */
function alphaBlock(texels: Uint8Array, out: Buffer, at: number): void {
  const values = Array.from({ length: 16 }, (_, i) => texels[4 * i + 3]!);
  const high = Math.max(...values);
  const low = Math.min(...values);
  if (high === low) {
    out.writeBigUInt64LE(BigInt(high | (low << 8)), at);
    return;
  }
  const steps = [high, low, ...[1, 2, 3, 4, 5, 6].map((k) => (high * (7 - k) + low * k) / 7)];
  let bits = 0n;
  values.forEach((value, i) => {
    let best = 0;
    for (let k = 1; k < 8; k++) if (Math.abs(value - steps[k]!) < Math.abs(value - steps[best]!)) best = k;
    bits |= BigInt(best) << BigInt(3 * i);
  });
  out.writeBigUInt64LE((bits << 16n) | BigInt(high) | (BigInt(low) << 8n), at);
}

/** The texels of one level in a layout. */
export function encode(pixels: Pixels, layout: Layout): Buffer {
  if (layout === 'rgba8') return pixels.data;
  const wide = Math.ceil(pixels.width / 4);
  const high = Math.ceil(pixels.height / 4);
  const bytes = layout === 'bc1' ? 8 : 16;
  const out = Buffer.alloc(wide * high * bytes);
  const texels = new Uint8Array(64);
  for (let i = 0; i < wide * high; i++) {
    block(pixels, i % wide, Math.floor(i / wide), texels);
    if (layout === 'bc7') {
      bc7Block(texels, out, i * bytes);
      continue;
    }
    if (layout === 'bc3') alphaBlock(texels, out, i * bytes);
    colourBlock(texels, out, i * bytes + bytes - 8);
  }
  return out;
}

/** Half the size, each texel the mean of four; colour weighed by alpha so that edges stay clean. */
function half(pixels: Pixels): Pixels {
  const width = Math.max(1, pixels.width >> 1);
  const height = Math.max(1, pixels.height >> 1);
  const data = Buffer.alloc(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      for (const [dx, dy] of [
        [0, 0],
        [1, 0],
        [0, 1],
        [1, 1],
      ] as const) {
        const sx = Math.min(pixels.width - 1, 2 * x + dx);
        const sy = Math.min(pixels.height - 1, 2 * y + dy);
        const at = 4 * (sy * pixels.width + sx);
        const alpha = pixels.data[at + 3]!;
        for (let c = 0; c < 3; c++) sum[c]! += pixels.data[at + c]! * alpha;
        sum[3]! += alpha;
      }
      const to = 4 * (y * width + x);
      for (let c = 0; c < 3; c++) data[to + c] = sum[3]! > 0 ? Math.round(sum[c]! / sum[3]!) : 0;
      data[to + 3] = Math.round(sum[3]! / 4);
    }
  return { width, height, data };
}

/** A whole sheet: its head and all levels down to one texel. */
export function writeSheet(pixels: Pixels, layout: Layout, role: string): Buffer {
  const levels: Buffer[] = [];
  let level = pixels;
  for (;;) {
    levels.push(encode(level, layout));
    if (level.width === 1 && level.height === 1) break;
    level = half(level);
  }
  const body = Buffer.concat(levels);
  const head = Buffer.alloc(32);
  head.write('SHEET', 0, 'latin1');
  head.writeUInt8(LAYOUTS[layout], 6);
  head.writeUInt8(levels.length, 7);
  head.writeUInt16LE(pixels.width, 8);
  head.writeUInt16LE(pixels.height, 10);
  head.writeUInt32LE(body.length, 12);
  head.writeUInt32LE(zlib.crc32(body), 16);
  head.write(role, 20, 12, 'latin1');
  return Buffer.concat([head, body]);
}
