import { verticesOf, type Part } from './form';

/** A part without triangles that have no surface because two of their corners are one. */
export function withoutLines(part: Part): Part {
  const { triangles } = part;
  const out = triangles.slice();
  let length = 0;
  for (let i = 0; i + 2 < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i]!, triangles[i + 1]!, triangles[i + 2]!];
    if (a === b || b === c || a === c) continue;
    out[length++] = a;
    out[length++] = b;
    out[length++] = c;
  }
  return length === triangles.length ? part : { ...part, triangles: out.slice(0, length) };
}

/** A part without the vertices that no triangle has. */
export function withoutUnused(part: Part): Part {
  const count = verticesOf(part);
  const number = new Int32Array(count).fill(-1);
  for (const corner of part.triangles) number[corner] = 0;
  let used = 0;
  for (let i = 0; i < count; i++) if (number[i] === 0) number[i] = used++;
  if (used === count) return part;
  const pick = <T extends Float32Array | Uint16Array>(values: T, each: number): T => {
    const out = values.slice(0, used * each) as T;
    for (let i = 0; i < count; i++)
      if (number[i]! >= 0) out.set(values.subarray(i * each, (i + 1) * each), number[i]! * each);
    return out;
  };
  return {
    ...part,
    places: pick(part.places, 3),
    normals: part.normals && pick(part.normals, 3),
    tangents: part.tangents && pick(part.tangents, 4),
    colours: part.colours && pick(part.colours, 4),
    joints: part.joints && pick(part.joints, 4),
    weights: part.weights && pick(part.weights, 4),
    coordinates: part.coordinates.map((set) => pick(set, 2)),
    morphs: part.morphs.map((morph) => ({ ...morph, places: pick(morph.places, 3) })),
    triangles: part.triangles.map((corner) => number[corner]!),
  };
}
