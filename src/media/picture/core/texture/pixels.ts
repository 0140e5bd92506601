/** A picture as texels, four bytes each: red, green, blue, alpha, not premultiplied, rows from the top. */
export interface Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** Half the size in both directions, at least 1; colour weighed by alpha so that edges stay clean. */
export function halved(pixels: Pixels): Pixels {
  const width = Math.max(1, pixels.width >> 1);
  const height = Math.max(1, pixels.height >> 1);
  const data = new Uint8Array(width * height * 4);
  const { data: from, width: stride } = pixels;
  for (let y = 0; y < height; y++) {
    const y0 = Math.min(pixels.height - 1, 2 * y) * stride;
    const y1 = Math.min(pixels.height - 1, 2 * y + 1) * stride;
    for (let x = 0; x < width; x++) {
      const x0 = Math.min(pixels.width - 1, 2 * x);
      const x1 = Math.min(pixels.width - 1, 2 * x + 1);
      const spots = [4 * (y0 + x0), 4 * (y0 + x1), 4 * (y1 + x0), 4 * (y1 + x1)];
      let red = 0;
      let green = 0;
      let blue = 0;
      let alpha = 0;
      for (const spot of spots) {
        const weight = from[spot + 3]!;
        red += from[spot]! * weight;
        green += from[spot + 1]! * weight;
        blue += from[spot + 2]! * weight;
        alpha += weight;
      }
      const to = 4 * (y * width + x);
      if (alpha > 0) {
        data[to] = Math.round(red / alpha);
        data[to + 1] = Math.round(green / alpha);
        data[to + 2] = Math.round(blue / alpha);
      }
      data[to + 3] = Math.round(alpha / 4);
    }
  }
  return { width, height, data };
}

/** Whether any texel is not fully opaque. */
export function usesAlpha(pixels: Pixels): boolean {
  for (let i = 3; i < pixels.data.length; i += 4) if (pixels.data[i] !== 255) return true;
  return false;
}

/**
 * Peak signal-to-noise ratio in decibels over red, green and blue, and alpha where asked; Infinity where
 * both are the same. Both pictures must have the same size.
 */
export function psnr(a: Pixels, b: Pixels, withAlpha: boolean): number {
  let sum = 0;
  const channels = withAlpha ? 4 : 3;
  for (let i = 0; i < a.data.length; i += 4)
    for (let c = 0; c < channels; c++) sum += (a.data[i + c]! - b.data[i + c]!) ** 2;
  const mean = sum / ((a.data.length / 4) * channels);
  return mean === 0 ? Infinity : 10 * Math.log10(255 ** 2 / mean);
}

/** Errors of one picture against another, in decibels; Infinity where both are the same. */
export interface ChannelErrors {
  readonly red: number;
  readonly green: number;
  readonly blue: number;
  readonly alpha: number;
  /** Over red, green and blue together. */
  readonly colour: number;
}

/** Peak signal-to-noise ratio of each channel. Both pictures must have the same size. */
export function channelErrors(a: Pixels, b: Pixels): ChannelErrors {
  const sums = [0, 0, 0, 0];
  for (let i = 0; i < a.data.length; i += 4)
    for (let c = 0; c < 4; c++) {
      const off = a.data[i + c]! - b.data[i + c]!;
      sums[c]! += off * off;
    }
  const texels = a.data.length / 4;
  const decibels = (sum: number, count: number): number =>
    sum === 0 ? Infinity : 10 * Math.log10((255 ** 2 * count) / sum);
  const [red, green, blue, alpha] = sums as [number, number, number, number];
  return {
    red: decibels(red, texels),
    green: decibels(green, texels),
    blue: decibels(blue, texels),
    alpha: decibels(alpha, texels),
    colour: decibels(red + green + blue, 3 * texels),
  };
}
