import type { Pixels } from './pixels';

/** How often each value comes up in each channel: 256 counts of red, then of green, blue and alpha. */
export function histogram({ data }: Pixels): Uint32Array {
  const counts = new Uint32Array(1024);
  for (let i = 0; i < data.length; i += 4) {
    counts[data[i]!]!++;
    counts[256 + data[i + 1]!]!++;
    counts[512 + data[i + 2]!]!++;
    counts[768 + data[i + 3]!]!++;
  }
  return counts;
}
