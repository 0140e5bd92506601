import { trianglesOf, verticesOf, type Form, type Part } from '../form/form';
import { withoutUnused } from '../form/tidy';

/** A level of detail of the slot that was not given, though the finer one that it stands for was changed. */
export interface LackingLevel {
  /** Number of the slot's part. */
  readonly at: number;
  /** Number of the finest one of the same name that changed. */
  readonly from: number;
  /** Triangles that it had for each triangle of that one. */
  readonly share: number;
}

/** Levels that show the old shape from afar, if nothing is done: of parts that were given (`isGiven`), and became others (`isChanged`). */
export function lackingLevels(
  { parts }: Form,
  isGiven: (at: number) => boolean,
  isChanged: (at: number) => boolean,
): LackingLevel[] {
  return parts.flatMap((own, at): LackingLevel[] => {
    if (isGiven(at)) return [];
    const [finest] = parts
      .map((part, from) => ({ part, from }))
      .filter(({ part, from }) => part.name === own.name && part.level < own.level && isChanged(from))
      .sort((a, b) => a.part.level - b.part.level);
    if (!finest) return [];
    const share = trianglesOf(own) / Math.max(1, trianglesOf(finest.part));
    return [{ at, from: finest.from, share: Math.min(1, share) }];
  });
}

const NORMAL_WEIGHT = 0.25;
const COORDINATE_WEIGHT = 0.5;

/**
 * A part with so many triangles for each of its own, and by how much its surface came to lie off at most, in metres. Vertices are left out, none
 * are moved, so that weights, colours and coordinates stay right; where normals or coordinates part, edges stay as long as others can go
 * (meshoptimizer; after Garland and Heckbert, 1997 and 1998).
 */
export async function coarser(
  part: Part,
  share: number,
): Promise<{ readonly part: Part; readonly error: number }> {
  const { MeshoptSimplifier: simplifier } = await import('meshoptimizer');
  await simplifier.ready;
  const target = Math.min(part.triangles.length, Math.max(1, Math.round(trianglesOf(part) * share)) * 3);
  const [uv] = part.coordinates;
  const sets = [
    ...(part.normals ? [{ values: part.normals, each: 3, weight: NORMAL_WEIGHT }] : []),
    ...(uv ? [{ values: uv, each: 2, weight: COORDINATE_WEIGHT }] : []),
  ];
  const stride = sets.reduce((sum, { each }) => sum + each, 0);
  const attributes = new Float32Array(stride * verticesOf(part));
  let column = 0;
  for (const { values, each } of sets) {
    for (let i = 0; i < values.length; i++)
      attributes[Math.floor(i / each) * stride + column + (i % each)] = values[i]!;
    column += each;
  }
  const weights = sets.flatMap(({ each, weight }) => Array.from({ length: each }, () => weight));
  const [triangles, relative] =
    stride === 0
      ? simplifier.simplify(part.triangles, part.places, 3, target, 1)
      : simplifier.simplifyWithAttributes(
          ...([part.triangles, part.places, 3, attributes, stride, weights, null, target, 1] as const),
        );
  return {
    part: withoutUnused({ ...part, triangles: new Uint32Array(triangles) }),
    error: relative * simplifier.getScale(part.places, 3),
  };
}
