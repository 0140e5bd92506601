import type { Track } from './form';

/** What a track is at a time: between two keys in a straight line, or for turns along the shorter arc; before the first and behind the last as these are. */
export function trackAt({ times, values, sort }: Track, time: number, out: number[] = []): number[] {
  const each = sort === 'turn' ? 4 : 3;
  const behind = firstBehind(times, time);
  const before = Math.max(0, behind - 1);
  const next = Math.min(times.length - 1, behind);
  const span = times[next]! - times[before]!;
  const share = span > 0 ? Math.min(1, Math.max(0, (time - times[before]!) / span)) : 0;
  const at = (key: number, i: number): number => values[key * each + i]!;
  if (sort !== 'turn') {
    for (let i = 0; i < 3; i++) out[i] = at(before, i) + (at(next, i) - at(before, i)) * share;
    return out;
  }
  let dot = 0;
  for (let i = 0; i < 4; i++) dot += at(before, i) * at(next, i);
  const sign = dot < 0 ? -1 : 1;
  const angle = Math.acos(Math.min(1, Math.abs(dot)));
  const sine = Math.sin(angle);
  // Turns that are nearly the same are as good as on a line.
  const [from, to] =
    sine < 1e-4 ? [1 - share, share] : [Math.sin((1 - share) * angle) / sine, Math.sin(share * angle) / sine];
  let length = 0;
  for (let i = 0; i < 4; i++) {
    out[i] = at(before, i) * from + at(next, i) * to * sign;
    length += out[i]! * out[i]!;
  }
  for (let i = 0; i < 4; i++) out[i]! /= Math.sqrt(length) || 1;
  return out;
}

/** The number of the first key behind a time. */
function firstBehind(times: Float32Array, time: number): number {
  let [low, high] = [0, times.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (times[middle]! <= time) low = middle + 1;
    else high = middle;
  }
  return low;
}
