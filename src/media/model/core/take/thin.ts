import type { Clip, Track } from '../form/form';

export interface Thinned {
  readonly clip: Clip;
  readonly keysBefore: number;
  readonly keys: number;
  /** How far it is off at most where a key was: metres, radians, and sizes as they are. */
  readonly place: number;
  readonly turn: number;
  readonly size: number;
}

export interface Tolerance {
  /** Metres. */
  readonly place: number;
  /** Radians. */
  readonly turn: number;
}

/** Sizes may be off by this much. */
const SIZE_OFF = 0.002;

/**
 * Leaves out keys that those beside them make up for, so that no key lies farther off than is allowed (Douglas and Peucker 1973, with the
 * way a program plays it in place of the straight line: turns on the shortest arc, the rest straight). First and last keys stay.
 */
export function thinned(clip: Clip, tolerance: Tolerance): Thinned {
  const off = { place: 0, turn: 0, size: 0 };
  let [keysBefore, keys] = [0, 0];
  const tracks = clip.tracks.map((track) => {
    const allowed = { place: tolerance.place, turn: tolerance.turn, size: SIZE_OFF }[track.sort];
    const kept = keptKeys(track, allowed);
    keysBefore += track.times.length;
    keys += kept.length;
    off[track.sort] = Math.max(off[track.sort], worst(track, kept));
    const each = track.sort === 'turn' ? 4 : 3;
    return {
      ...track,
      times: Float32Array.from(kept, (key) => track.times[key]!),
      values: Float32Array.from(
        kept.flatMap((key) => [...track.values.subarray(each * key, each * key + each)]),
      ),
    };
  });
  return { clip: { ...clip, tracks }, keysBefore, keys, ...off };
}

function keptKeys(track: Track, allowed: number): number[] {
  const { times } = track;
  const last = times.length - 1;
  if (last < 1) return times.length === 1 ? [0] : [];
  const isKept = new Uint8Array(times.length);
  isKept[0] = isKept[last] = 1;
  const open: (readonly [number, number])[] = [[0, last]];
  for (let span = open.pop(); span; span = open.pop()) {
    const [from, to] = span;
    let [far, key] = [allowed, -1];
    for (let i = from + 1; i < to; i++) {
      const distance = offAt(track, from, to, i);
      if (distance > far) [far, key] = [distance, i];
    }
    if (key < 0) continue;
    isKept[key] = 1;
    open.push([from, key], [key, to]);
  }
  // What stands still needs one key.
  const kept = [...isKept.keys()].filter((key) => isKept[key] === 1);
  return kept.length === 2 && offBetween(track, 0, last) === 0 ? [0] : kept;
}

function worst(track: Track, kept: readonly number[]): number {
  let most = 0;
  if (kept.length === 1) {
    for (let key = 0; key < track.times.length; key++) most = Math.max(most, offBetween(track, 0, key));
    return most;
  }
  kept.forEach((to, i) => {
    const from = kept[i - 1];
    if (from === undefined) return;
    for (let key = from + 1; key < to; key++) most = Math.max(most, offAt(track, from, to, key));
  });
  return most;
}

const valuesOf = ({ sort, values }: Track, key: number): number[] => {
  const each = sort === 'turn' ? 4 : 3;
  return [...values.subarray(each * key, each * key + each)];
};

const offBetween = (track: Track, one: number, other: number): number =>
  apart(track.sort, valuesOf(track, one), valuesOf(track, other));

/** How far a key is from what lies between two others at its time. */
function offAt(track: Track, from: number, to: number, key: number): number {
  const { times, sort } = track;
  const length = times[to]! - times[from]!;
  const t = length > 0 ? (times[key]! - times[from]!) / length : 0;
  const [a, b] = [valuesOf(track, from), valuesOf(track, to)];
  const between = sort === 'turn' ? arc(a, b, t) : a.map((value, i) => value + (b[i]! - value) * t);
  return apart(sort, between, valuesOf(track, key));
}

function apart(sort: Track['sort'], a: readonly number[], b: readonly number[]): number {
  if (sort === 'turn') {
    const dot = Math.abs(a.reduce((sum, value, i) => sum + value * b[i]!, 0));
    const length = Math.hypot(...a) * Math.hypot(...b) || 1;
    return 2 * Math.acos(Math.min(1, dot / length));
  }
  return Math.hypot(...a.map((value, i) => value - b[i]!));
}

/** Between two turns on the shortest arc (Shoemake 1985). */
function arc(a: readonly number[], b: readonly number[], t: number): number[] {
  let dot = a.reduce((sum, value, i) => sum + value * b[i]!, 0);
  const sign = dot < 0 ? -1 : 1;
  dot = Math.min(1, Math.abs(dot));
  const angle = Math.acos(dot);
  const [p, q] =
    angle < 1e-4
      ? [1 - t, t]
      : [Math.sin((1 - t) * angle) / Math.sin(angle), Math.sin(t * angle) / Math.sin(angle)];
  return a.map((value, i) => p * value + sign * q * b[i]!);
}
