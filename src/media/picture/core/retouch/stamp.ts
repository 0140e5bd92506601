import type { Pixels } from '../texture';

/**
 * Lays one picture over another with its upper left corner at `x`, `y`; what reaches over an edge is left out. Source over
 * destination with straight alpha (Porter and Duff, 1984).
 */
export function stamped(pixels: Pixels, top: Pixels, x: number, y: number): Pixels {
  const data = pixels.data.slice();
  const [firstX, lastX] = [Math.max(0, -x), Math.min(top.width, pixels.width - x)];
  for (let row = Math.max(0, -y); row < Math.min(top.height, pixels.height - y); row++)
    for (let column = firstX; column < lastX; column++) {
      const from = 4 * (row * top.width + column);
      const to = 4 * ((y + row) * pixels.width + x + column);
      const over = top.data[from + 3]! / 255;
      if (over === 0) continue;
      const under = (data[to + 3]! / 255) * (1 - over);
      const alpha = over + under;
      for (let c = 0; c < 3; c++)
        data[to + c] = Math.round((top.data[from + c]! * over + data[to + c]! * under) / alpha);
      data[to + 3] = Math.round(255 * alpha);
    }
  return { ...pixels, data };
}
