import zlib from 'node:zlib';
import { Stall } from '../common/stall';

/** Forms and gaits as the engine loads them: everything is checked before anything is drawn. */
export type Spot = [number, number, number];
export type Turn = [number, number, number, number];

export interface FormBone {
  name: string;
  parent: number;
  place: Spot;
  turn: Turn;
}

export interface FormMesh {
  name: string;
  level: number;
  paint: number;
  places: Float64Array;
  normals: Float64Array;
  spots: Float64Array;
  bones: Uint8Array;
  weights: Uint8Array;
  corners: Uint16Array;
}

export interface LoadedForm {
  bones: FormBone[];
  /** Path of the colours of each paint; empty for none. */
  paints: string[];
  meshes: FormMesh[];
}

const text = (bytes: Buffer, at: number, size: number): string =>
  bytes.toString('utf8', at, at + size).replace(/\0.*$/s, '');

function head(bytes: Buffer, what: string, tag: string, size: number): void {
  if (bytes.length < size || bytes.toString('latin1', 0, 5) !== `${tag}\x01`)
    throw new Stall(what, 'tag', `this is no ${tag.toLowerCase()} of this engine`);
  const check = bytes.readUInt32LE(16);
  if (bytes.readUInt32LE(20) !== bytes.length)
    throw new Stall(
      what,
      'length',
      `the head says ${bytes.readUInt32LE(20)} bytes, there are ${bytes.length}`,
    );
  if (zlib.crc32(bytes.subarray(size)) !== check)
    throw new Stall(what, 'check', 'the check does not agree with what is behind it');
}

function bonesAt(bytes: Buffer, from: number, count: number, size: number, what: string): FormBone[] {
  return Array.from({ length: count }, (_, i) => {
    const at = from + i * size;
    const parent = bytes.readInt16LE(at + 24);
    if (parent >= i || parent < -1)
      throw new Stall(what, 'bone', `bone ${i} hangs on ${parent}, which comes later`);
    const place = [0, 1, 2].map((k) => bytes.readFloatLE(at + 28 + 4 * k)) as Spot;
    const turn = (
      size === 64 ? [0, 1, 2, 3].map((k) => bytes.readFloatLE(at + 40 + 4 * k)) : [0, 0, 0, 1]
    ) as Turn;
    return { name: text(bytes, at, 24), parent, place, turn };
  });
}

/** Reads a form. Throws Stall where it says what is not so. */
export function readForm(bytes: Buffer, what: string): LoadedForm {
  head(bytes, what, 'FORM', 64);
  const [boneCount, paintCount, partCount] = [8, 10, 12].map((at) => bytes.readUInt16LE(at)) as [
    number,
    number,
    number,
  ];
  const bones = bonesAt(bytes, 64, boneCount, 64, what);
  let at = 64 + 64 * boneCount;
  const paints: string[] = [];
  for (let i = 0; i < paintCount; i++) {
    at += 24;
    for (let k = 0; k < 4; k++) {
      const length = bytes.readUInt16LE(at);
      if (k === 0) paints.push(bytes.toString('utf8', at + 2, at + 2 + length));
      at += 2 + length;
    }
  }
  const [stretches, corners, parts] = [at, at + 40 * partCount, at + 56 * partCount];
  const meshes = Array.from({ length: partCount }, (_, i): FormMesh => {
    const row = parts + 64 * i;
    const mesh = bytes.readUInt16LE(row + 28);
    const name = text(bytes, row, 28);
    if (mesh >= partCount)
      throw new Stall(what, 'part', `${name} is of mesh ${mesh}, there are ${partCount}`);
    const stretch = stretches + 40 * mesh;
    const [place, count, stride] = [
      bytes.readUInt32LE(stretch),
      bytes.readUInt32LE(stretch + 4),
      bytes.readUInt16LE(stretch + 8),
    ];
    const [list, length] = [
      bytes.readUInt32LE(corners + 16 * mesh),
      bytes.readUInt32LE(corners + 16 * mesh + 4),
    ];
    if (stride !== 24) throw new Stall(what, 'stride', `${stride} bytes a vertex; the engine takes 24`);
    if (place + count * stride > bytes.length || list + 2 * length > bytes.length)
      throw new Stall(what, 'stream', `a stream of ${name} reaches beyond the end`);
    if (length % 3 !== 0) throw new Stall(what, 'corners', `${length} corners of ${name} are no triangles`);
    const [low, step] = [16, 28].map((from) =>
      [0, 1, 2].map((k) => bytes.readFloatLE(stretch + from + 4 * k)),
    ) as [number[], number[]];
    const out: FormMesh = {
      ...{ name, level: bytes[row + 32]!, paint: bytes.readUInt16LE(row + 30) },
      places: new Float64Array(3 * count),
      normals: new Float64Array(3 * count),
      spots: new Float64Array(2 * count),
      bones: new Uint8Array(4 * count),
      weights: new Uint8Array(4 * count),
      corners: new Uint16Array(length),
    };
    for (let v = 0; v < count; v++) {
      const from = place + v * stride;
      for (let k = 0; k < 3; k++) {
        const value = low[k]! + step[k]! * bytes.readUInt16LE(from + 2 * k);
        // The box of the part is what the engine asks before it draws.
        const [least, most] = [bytes.readFloatLE(row + 40 + 4 * k), bytes.readFloatLE(row + 52 + 4 * k)];
        if (value < least - 0.1 || value > most + 0.1)
          throw new Stall(what, 'box', `vertex ${v} of ${name} is outside its box`);
        out.places[3 * v + k] = value;
        out.normals[3 * v + k] = bytes.readInt8(from + 6 + k) / 127;
      }
      for (let k = 0; k < 2; k++) out.spots[2 * v + k] = bytes.readUInt16LE(from + 10 + 2 * k) / 65_535;
      for (let k = 0; k < 4; k++) {
        out.bones[4 * v + k] = bytes[from + 16 + k]!;
        out.weights[4 * v + k] = bytes[from + 20 + k]!;
        if (out.weights[4 * v + k]! > 0 && boneCount > 0 && out.bones[4 * v + k]! >= boneCount)
          throw new Stall(
            what,
            'bone',
            `vertex ${v} of ${name} is moved by bone ${out.bones[4 * v + k]} of ${boneCount}`,
          );
      }
    }
    for (let i = 0; i < length; i++) {
      out.corners[i] = bytes.readUInt16LE(list + 2 * i);
      if (out.corners[i]! >= count)
        throw new Stall(what, 'corner', `corner ${i} of ${name} is vertex ${out.corners[i]} of ${count}`);
    }
    return out;
  });
  return { bones, paints, meshes };
}

/** How bones are turned and placed at a moment of a clip, by their names. */
export type Pose = Map<string, { turn?: Turn; place?: Spot }>;

/** Reads a clip of a gait at a frame. Throws Stall where there is none, or it is damaged. */
export function poseOf(bytes: Buffer, what: string, clip: string, frame: number): Pose {
  head(bytes, what, 'GAIT', 32);
  const [boneCount, clipCount, trackCount] = [
    bytes.readUInt16LE(8),
    bytes.readUInt16LE(10),
    bytes.readUInt32LE(12),
  ];
  const bones = bonesAt(bytes, 32, boneCount, 48, what);
  const clips = 32 + 48 * boneCount;
  const number = Array.from({ length: clipCount }, (_, i) => text(bytes, clips + 64 * i, 32)).indexOf(clip);
  if (number < 0) throw new Stall(what, 'clip', `there is no clip ${clip}`);
  const pose: Pose = new Map();
  for (let i = 0; i < trackCount; i++) {
    const row = clips + 64 * clipCount + 16 * i;
    if (bytes.readUInt16LE(row + 8) !== number) continue;
    const [place, keys, bone, moves] = [
      bytes.readUInt32LE(row),
      bytes.readUInt32LE(row + 4),
      bytes.readUInt16LE(row + 10),
      bytes[row + 12]!,
    ];
    if (bone >= boneCount || place + 8 * keys > bytes.length)
      throw new Stall(what, 'track', `track ${i} leads outside`);
    if (keys === 0) continue;
    let at = place;
    for (let k = 1; k < keys; k++) {
      const time = bytes.readUInt16LE(place + 8 * k);
      if (time < bytes.readUInt16LE(place + 8 * (k - 1)))
        throw new Stall(what, 'key', `key ${k} of track ${i} goes back in time`);
      if (time <= frame) at = place + 8 * k;
    }
    const own = pose.get(bones[bone]!.name) ?? {};
    if (moves === 0) own.turn = turnAt(bytes, at + 2);
    else own.place = [0, 1, 2].map((k) => bytes.readInt16LE(at + 2 + 2 * k) / 100) as Spot;
    pose.set(bones[bone]!.name, own);
  }
  return pose;
}

function turnAt(bytes: Buffer, at: number): Turn {
  const words = [0, 2, 4].map((k) => bytes.readUInt16LE(at + k));
  const largest = (words[0]! >> 15) + 2 * (words[1]! >> 15);
  const turn: Turn = [0, 0, 0, 0];
  let sum = 0;
  let next = 0;
  for (let i = 0; i < 4; i++) {
    if (i === largest) continue;
    const value = (((words[next++]! & 0x7fff) / 32_767) * 2 - 1) / Math.SQRT2;
    turn[i] = value;
    sum += value * value;
  }
  turn[largest] = Math.sqrt(Math.max(0, 1 - sum));
  return turn;
}
