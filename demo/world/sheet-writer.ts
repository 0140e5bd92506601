import zlib from 'node:zlib';

/** Pixel layouts of a sheet and the numbers that stand for them in its head. */
export const LAYOUTS = { rgba8: 1, bc1: 2, bc3: 3 } as const;
export type Layout = keyof typeof LAYOUTS;

interface Pixels {
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

/** The 16 texels of a block, edges repeated. */
function block(pixels: Pixels, bx: number, by: number): number[][] {
  const texels: number[][] = [];
  for (let y = 0; y < 4; y++)
    for (let x = 0; x < 4; x++) {
      const at =
        4 * (Math.min(pixels.height - 1, by * 4 + y) * pixels.width + Math.min(pixels.width - 1, bx * 4 + x));
      texels.push([...pixels.data.subarray(at, at + 4)]);
    }
  return texels;
}

const distance = (a: number[], b: number[]): number =>
  (a[0]! - b[0]!) ** 2 + (a[1]! - b[1]!) ** 2 + (a[2]! - b[2]!) ** 2;

/** Eight bytes of colour: the two texels furthest apart as ends, and for each texel the nearest of four. */
function colourBlock(texels: number[][]): Buffer {
  const seen = texels.filter((texel) => texel[3]! > 8);
  const pool = seen.length > 0 ? seen : texels;
  let ends: [number[], number[]] = [pool[0]!, pool[0]!];
  let most = -1;
  for (const a of pool)
    for (const b of pool)
      if (distance(a, b) > most) {
        most = distance(a, b);
        ends = [a, b];
      }
  let c0 = to565(ends[0][0]!, ends[0][1]!, ends[0][2]!);
  let c1 = to565(ends[1][0]!, ends[1][1]!, ends[1][2]!);
  if (c0 < c1) [c0, c1] = [c1, c0];
  const p0 = from565(c0);
  const p1 = from565(c1);
  const mix = (k: number): number[] => p0.map((v, i) => (v * (3 - k) + p1[i]! * k) / 3);
  const palette = [p0, p1, mix(1), mix(2)];
  const out = Buffer.alloc(8);
  out.writeUInt16LE(c0, 0);
  out.writeUInt16LE(c1, 2);
  let bits = 0;
  texels.forEach((texel, i) => {
    let best = 0;
    // With equal ends the third and fourth colour would mean something else.
    if (c0 !== c1)
      for (let k = 1; k < 4; k++)
        if (distance(texel, palette[k]!) < distance(texel, palette[best]!)) best = k;
    bits += best * 4 ** i;
  });
  out.writeUInt32LE(bits, 4);
  return out;
}

/** Eight bytes of alpha: largest and smallest, and for each texel the nearest of eight steps. */
function alphaBlock(texels: number[][]): Buffer {
  const values = texels.map((texel) => texel[3]!);
  const high = Math.max(...values);
  const low = Math.min(...values);
  const steps = [high, low, ...[1, 2, 3, 4, 5, 6].map((k) => (high * (7 - k) + low * k) / 7)];
  let bits = 0n;
  values.forEach((value, i) => {
    let best = 0;
    if (high > low)
      for (let k = 1; k < 8; k++) if (Math.abs(value - steps[k]!) < Math.abs(value - steps[best]!)) best = k;
    bits |= BigInt(best) << BigInt(3 * i);
  });
  const out = Buffer.alloc(8);
  out.writeBigUInt64LE((bits << 16n) | BigInt(high) | (BigInt(low) << 8n));
  return out;
}

function encode(pixels: Pixels, layout: Layout): Buffer {
  if (layout === 'rgba8') return pixels.data;
  const parts: Buffer[] = [];
  for (let by = 0; by < Math.ceil(pixels.height / 4); by++)
    for (let bx = 0; bx < Math.ceil(pixels.width / 4); bx++) {
      const texels = block(pixels, bx, by);
      if (layout === 'bc3') parts.push(alphaBlock(texels));
      parts.push(colourBlock(texels));
    }
  return Buffer.concat(parts);
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
