/** A target with what takes its place; `source` is missing where there is no counterpart. */
export interface SwapPair {
  readonly target: string;
  readonly source: string | undefined;
}

export interface SwapPlan {
  readonly pairs: readonly SwapPair[];
  /** Sources that no target has a place for. */
  readonly left: readonly string[];
}

/**
 * Pairs targets with their counterparts: what stands behind the beginning of one set is looked for behind the beginning
 * of the other. Beginnings are of whole paths, such as `actors/odd/coat/coat_`.
 */
export function planSwap(paths: readonly string[], target: string, source: string): SwapPlan {
  const rests = (start: string): Map<string, string> =>
    new Map(paths.filter((path) => path.startsWith(start)).map((path) => [path.slice(start.length), path]));
  const sources = rests(source);
  const targets = rests(target);
  // Where one beginning is that of the other, a path must not stand on both sides.
  if (target.startsWith(source))
    for (const rest of [...sources.keys()]) if ((source + rest).startsWith(target)) sources.delete(rest);
  if (source.startsWith(target))
    for (const rest of [...targets.keys()]) if ((target + rest).startsWith(source)) targets.delete(rest);
  const pairs = [...targets].map(([rest, path]) => ({ target: path, source: sources.get(rest) }));
  const left = [...sources].filter(([rest]) => !targets.has(rest)).map(([, path]) => path);
  return { pairs, left };
}
