/** What of a part is drawn where its texture coordinates lie. */
export interface CoordinateLines {
  /** 3 a vertex: from the left, downwards as less than 0, and 0. */
  readonly places: Float32Array<ArrayBuffer>;
  /** Two numbers of vertices a line; each side of a triangle once, where neighbours share it. */
  readonly lines: Uint32Array<ArrayBuffer>;
  /** Triangles that reach beyond the picture. */
  readonly outside: number;
  /** The corners of what they take up. */
  readonly low: readonly [number, number];
  readonly high: readonly [number, number];
}

/** Coordinates that reach a hair beyond the edge are on it. */
const EDGE = 1e-3;

/**
 * The triangles of a part as they lie on its picture.
 * @param coordinates 2 a vertex: from the left, and from the top; 1 is the width or height of the picture.
 * @param corners 3 a triangle, numbers of vertices.
 */
export function coordinateLines(coordinates: Float32Array, corners: Uint32Array): CoordinateLines {
  const vertices = coordinates.length / 2;
  const places = new Float32Array(3 * vertices);
  const isOutside = new Uint8Array(vertices);
  const low: [number, number] = [Infinity, Infinity];
  const high: [number, number] = [-Infinity, -Infinity];
  for (let i = 0; i < vertices; i++) {
    const [u, v] = [coordinates[2 * i]!, coordinates[2 * i + 1]!];
    places[3 * i] = u;
    places[3 * i + 1] = -v;
    if (!(u >= -EDGE && u <= 1 + EDGE && v >= -EDGE && v <= 1 + EDGE)) isOutside[i] = 1;
    low[0] = Math.min(low[0], u);
    low[1] = Math.min(low[1], v);
    high[0] = Math.max(high[0], u);
    high[1] = Math.max(high[1], v);
  }
  const seen = new Set<number>();
  const lines = new Uint32Array(2 * corners.length);
  let [at, outside] = [0, 0];
  for (let i = 0; i + 2 < corners.length; i += 3) {
    const three = [corners[i]!, corners[i + 1]!, corners[i + 2]!] as const;
    if (three.some((corner) => isOutside[corner] === 1)) outside++;
    for (let side = 0; side < 3; side++) {
      const [a, b] = [three[side]!, three[(side + 1) % 3]!];
      const key = Math.min(a, b) * vertices + Math.max(a, b);
      if (seen.has(key)) continue;
      seen.add(key);
      lines[at++] = a;
      lines[at++] = b;
    }
  }
  const isEmpty = vertices === 0;
  return {
    ...{ places, lines: lines.slice(0, at), outside },
    ...{ low: isEmpty ? [0, 0] : low, high: isEmpty ? [1, 1] : high },
  };
}
