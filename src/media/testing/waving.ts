import { BytesBuilder } from '@/core/testing/bytes-builder';

export type Spot = readonly [number, number, number];
export const CORNERS: readonly Spot[] = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 1, 0],
  [1, 1, 0],
];
const STILLS: readonly (readonly Spot[])[] = [
  CORNERS,
  CORNERS.map(([x, y]) => [x, y, x]),
  CORNERS.map(([x, y]) => [x, y, -x]),
];

/** A square as docs/media-scripts.md describes it: shapes that list what moves in thousandths, and frames of all vertices in hundredths. */
export function waving(moods: Readonly<Record<string, readonly (readonly [number, ...Spot])[]>>): Uint8Array {
  const out = new BytesBuilder(true);
  const float = (value: number): Uint8Array => new Uint8Array(Float32Array.of(value).buffer);
  const names = Object.keys(moods);
  const head = 4 + 2 * 4 + 4 + 8 + names.length * 16 + STILLS.length * 8;
  let at = head;
  const place = (length: number): number => {
    const own = at;
    at += length;
    return own;
  };
  out.raw('WAVE').number(4, 2).number(names.length, 2).number(STILLS.length, 2).number(10, 2);
  out.number(place(48), 4);
  out.number(place(12), 4).number(12, 4);
  for (const name of names) {
    const moved = moods[name]!;
    out
      .padded(name, 8)
      .number(place(8 * moved.length), 4)
      .number(moved.length, 4);
  }
  for (const still of STILLS) out.number(place(6 * still.length), 4).number(6 * still.length, 4);
  for (const value of CORNERS.flat()) out.raw(float(value));
  for (const corner of [0, 1, 2, 2, 1, 3]) out.number(corner, 2);
  for (const name of names)
    for (const [vertex, ...spot] of moods[name]!) {
      out.number(vertex, 2);
      for (const value of spot) out.number(Math.round(value * 1000) & 0xffff, 2);
    }
  for (const value of STILLS.flat(2)) out.number(Math.round(value * 100) & 0xffff, 2);
  return out.bytes();
}
