/** Neighbouring entries of a list that are in one folder. */
export interface Run {
  /** With its slash; empty for the top. */
  readonly folder: string;
  readonly count: number;
}

/** Gathers paths in their order into runs of one folder each, at most so many. */
export function runsOf(paths: Iterable<string>, most: number): Run[] {
  const runs: { folder: string; count: number }[] = [];
  for (const path of paths) {
    const folder = path.slice(0, path.lastIndexOf('/') + 1);
    const last = runs.at(-1);
    if (last && (last.folder === folder || runs.length === most)) last.count++;
    else runs.push({ folder, count: 1 });
  }
  return runs;
}
