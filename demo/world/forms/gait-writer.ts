import zlib from 'node:zlib';
import { OutBytes } from '../out-bytes';
import type { Joint } from './mesh';

/** A turn as x, y, z, w. */
export type Turn = readonly [number, number, number, number];

export interface GaitTrack {
  bone: number;
  /** One for each frame. */
  turns?: readonly Turn[];
  places?: readonly (readonly [number, number, number])[];
}

export interface Gait {
  name: string;
  group: string;
  rate: number;
  isLoop: boolean;
  tracks: readonly GaitTrack[];
}

const HEAD = 32;
const BONE = 48;
const CLIP = 64;
const ROW = 16;
const KEY = 8;

/** The largest is left out: 15 bits for each of the other three, its number in the two bits that are left over. */
function packedTurn(turn: Turn, frame: number): Buffer {
  const out = Buffer.alloc(KEY);
  out.writeUInt16LE(frame, 0);
  let largest = 0;
  for (let i = 1; i < 4; i++) if (Math.abs(turn[i as 0]) > Math.abs(turn[largest as 0])) largest = i;
  const sign = turn[largest as 0] < 0 ? -1 : 1;
  let word = 0;
  for (let i = 0; i < 4; i++) {
    if (i === largest) continue;
    const share = (sign * turn[i as 0] * Math.SQRT2 + 1) / 2;
    const value = Math.min(32_767, Math.max(0, Math.round(share * 32_767)));
    const bit = word === 0 ? largest & 1 : word === 1 ? largest >> 1 : 0;
    out.writeUInt16LE(value | (bit << 15), 2 + 2 * word++);
  }
  return out;
}

function packedPlace([x, y, z]: readonly [number, number, number], frame: number): Buffer {
  const out = Buffer.alloc(KEY);
  out.writeUInt16LE(frame, 0);
  // A Peatfire space is left-handed with z up, in centimetres; a tenth of a millimetre is a step.
  [x, z, y].forEach((value, i) => out.writeInt16LE(Math.round(value * 10_000), 2 + 2 * i));
  return out;
}

/** A mirror turns the other way about. */
const there = ([x, y, z, w]: Turn): Turn => [-x, -z, -y, w];

/** Gaits of one creature: a head, its bones by name, clips, rows of tracks, then keys of 8 bytes. */
export function writeGaits(joints: readonly Joint[], gaits: readonly Gait[]): Buffer {
  const tracks = gaits.flatMap((gait, clip) => gait.tracks.map((track) => ({ clip, ...track })));
  const bodies = tracks.map(({ turns, places }) =>
    Buffer.concat([
      ...(turns ?? []).map((turn, frame) => packedTurn(there(turn), frame)),
      ...(places ?? []).map((place, frame) => packedPlace(place, frame)),
    ]),
  );
  const out = new OutBytes();
  for (const joint of joints) {
    out.text(joint.name, 24).number(joint.parent, 2).u16(0);
    const place = Buffer.alloc(20);
    joint.place.forEach((_, i) =>
      place.writeFloatLE(100 * [joint.place[0], joint.place[2], joint.place[1]][i]!, 4 * i),
    );
    out.bytes(place);
  }
  for (const gait of gaits) {
    const frames = Math.max(...gait.tracks.map(({ turns, places }) => (turns ?? places ?? []).length));
    out
      .text(gait.name, 32)
      .text(gait.group, 24)
      .u16(frames)
      .u8(gait.rate)
      .u8(gait.isLoop ? 1 : 0)
      .u32(0);
  }
  let place = HEAD + joints.length * BONE + gaits.length * CLIP + tracks.length * ROW;
  tracks.forEach(({ clip, bone, turns }, i) => {
    out
      .u32(place)
      .u32(bodies[i]!.length / KEY)
      .u16(clip)
      .u16(bone)
      .u8(turns ? 0 : 1)
      .u8(0)
      .u16(0);
    place += bodies[i]!.length;
  });
  for (const body of bodies) out.bytes(body);
  const behind = out.whole();
  const head = new OutBytes();
  head.bytes(Buffer.from('GAIT\x01\0\0\0', 'latin1'));
  head.u16(joints.length).u16(gaits.length).u32(tracks.length);
  head.u32(zlib.crc32(behind)).u32(HEAD + behind.length);
  head.bytes(Buffer.alloc(HEAD - head.length));
  return Buffer.concat([head.whole(), behind]);
}
