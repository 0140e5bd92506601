import sharp from 'sharp';
import { bc7Texels } from './bc7';

/** A picture as the engines give it to the screen: four bytes a texel. */
export interface Picture {
  width: number;
  height: number;
  rgba: Buffer;
  layout: number;
}

/** Texels of blocks: layout 2 has blocks of BC1, 3 of BC3, 4 of BC7. */
export function unblock(body: Buffer, layout: number, width: number, height: number): Buffer {
  const out = Buffer.alloc(width * height * 4);
  const across = Math.ceil(width / 4);
  const step = layout === 2 ? 8 : 16;
  for (let n = 0; n < across * Math.ceil(height / 4); n++) {
    const block = body.subarray(n * step, (n + 1) * step);
    if (layout === 4) {
      place(bc7Texels(block), n, across, { width, height, rgba: out });
      continue;
    }
    const colours = palette(block.subarray(step - 8), layout === 3);
    const alphas = layout === 3 ? alphaSteps(block) : undefined;
    const picks = block.readUInt32LE(step - 4);
    const alphaBits = layout === 3 ? block.readBigUInt64LE(0) >> 16n : 0n;
    for (let i = 0; i < 16; i++) {
      const x = (n % across) * 4 + (i % 4);
      const y = Math.floor(n / across) * 4 + (i >> 2);
      if (x >= width || y >= height) continue;
      const texel = colours[(picks >>> (2 * i)) & 3]!;
      const alpha = alphas ? alphas[Number((alphaBits >> BigInt(3 * i)) & 7n)]! : texel[3]!;
      out.set([texel[0]!, texel[1]!, texel[2]!, alpha], 4 * (y * width + x));
    }
  }
  return out;
}

/** Puts the texels of a block where they belong, those beyond the edges aside. */
function place(
  texels: readonly number[][],
  n: number,
  across: number,
  { width, height, rgba }: { width: number; height: number; rgba: Buffer },
): void {
  for (const [i, texel] of texels.entries()) {
    const x = (n % across) * 4 + (i % 4);
    const y = Math.floor(n / across) * 4 + (i >> 2);
    if (x < width && y < height) rgba.set(texel, 4 * (y * width + x));
  }
}

function palette(block: Buffer, always4: boolean): number[][] {
  const ends = [block.readUInt16LE(0), block.readUInt16LE(2)];
  const [a, b] = ends.map((c) => [
    ((c >> 11) * 527 + 23) >> 6,
    (((c >> 5) & 63) * 259 + 33) >> 6,
    ((c & 31) * 527 + 23) >> 6,
  ]) as [number[], number[]];
  const mix = (p: number, q: number): number[] => a.map((v, i) => Math.floor((v * p + b[i]! * q) / (p + q)));
  if (always4 || ends[0]! > ends[1]!)
    return [
      [...a, 255],
      [...b, 255],
      [...mix(2, 1), 255],
      [...mix(1, 2), 255],
    ];
  return [
    [...a, 255],
    [...b, 255],
    [...mix(1, 1), 255],
    [0, 0, 0, 0],
  ];
}

function alphaSteps(block: Buffer): number[] {
  const [a, b] = [block[0]!, block[1]!];
  if (a > b) return [a, b, ...[1, 2, 3, 4, 5, 6].map((k) => Math.floor((a * (7 - k) + b * k) / 7))];
  return [a, b, ...[1, 2, 3, 4].map((k) => Math.floor((a * (5 - k) + b * k) / 5)), 0, 255];
}

export const toPng = ({ width, height, rgba }: Picture): Promise<Buffer> =>
  sharp(rgba, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
