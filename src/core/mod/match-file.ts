/**
 * Which entry a file from outside is meant for: the one of the same path but for its ending, else the only one of that
 * name. `paths` are those that the game sees. Undefined where there is none, or where more than one could be meant.
 */
export function matchFile(file: string, paths: Iterable<string>): string | undefined {
  const wanted = stemOf(file);
  const name = wanted.slice(wanted.lastIndexOf('/') + 1);
  const byName: string[] = [];
  for (const path of paths) {
    const stem = stemOf(path);
    if (stem === wanted) return path;
    if (stem.endsWith(`/${name}`) || stem === name) byName.push(path);
  }
  // Of several of that name the one whose folders go on further back.
  if (byName.length > 1) {
    const inFolder = byName.filter((path) => stemOf(path).endsWith(`/${wanted}`));
    return inFolder.length === 1 ? inFolder[0] : undefined;
  }
  return byName[0];
}

function stemOf(path: string): string {
  const plain = path.replaceAll('\\', '/').toLowerCase();
  const dot = plain.lastIndexOf('.');
  return dot > plain.lastIndexOf('/') + 1 ? plain.slice(0, dot) : plain;
}
