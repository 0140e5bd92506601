/** A change of one of several mods, as far as it matters which of them has its way. */
export interface MixedChange {
  readonly modId: number;
  readonly path: string;
  readonly archivePath: string;
  readonly entryIndex: number;
  /** Hash of the bytes that go in, or what else is done; undefined where they do not fit yet. */
  readonly content: string | undefined;
}

/** A path that several mods change in different ways. */
export interface Conflict {
  /** The path as its first change has it. */
  readonly path: string;
  /** The mods that change it, in their order. */
  readonly mods: readonly number[];
  readonly taken: number;
  readonly by: 'order' | 'choice';
}

export interface Mix<T> {
  readonly taken: readonly T[];
  readonly conflicts: readonly Conflict[];
}

/** What a choice between mods is kept under: paths are the same whatever their case. */
export const conflictKey = (path: string): string => path.toLowerCase();

const slotOf = ({ archivePath, entryIndex }: MixedChange): string => `${archivePath}\n${entryIndex}`;

/**
 * Puts the changes of several mods together. `order` has the mods from first to last; where several change one path, in whichever
 * archive, the last one has its way, unless `choices` says another one. All of a path comes from one mod, so that what
 * belongs together stays together; changes that are the same are no conflict.
 */
export function mixChanges<T extends MixedChange>(
  changes: readonly T[],
  order: readonly number[],
  choices: ReadonlyMap<string, number> = new Map(),
): Mix<T> {
  const rank = new Map(order.map((id, i) => [id, i]));
  const known = changes.filter(({ modId }) => rank.has(modId));
  // The names of an entry may have been learnt between two changes of it; the first one counts for both.
  const keys = new Map<string, string>();
  for (const change of known) {
    const slot = slotOf(change);
    if (!keys.has(slot)) keys.set(slot, conflictKey(change.path));
  }
  const groups = new Map<string, T[]>();
  for (const change of known) {
    const key = keys.get(slotOf(change))!;
    const group = groups.get(key);
    if (group) group.push(change);
    else groups.set(key, [change]);
  }
  const taken: T[] = [];
  const conflicts: Conflict[] = [];
  for (const [key, group] of groups) {
    const mods = [...new Set(group.map(({ modId }) => modId))].sort((a, b) => rank.get(a)! - rank.get(b)!);
    const chosen = choices.get(key);
    const isChosen = chosen !== undefined && mods.includes(chosen);
    const winner = isChosen ? chosen : mods.at(-1)!;
    taken.push(...group.filter(({ modId }) => modId === winner));
    if (mods.length > 1 && differ(group, mods))
      conflicts.push({ path: group[0]!.path, mods, taken: winner, by: isChosen ? 'choice' : 'order' });
  }
  return { taken, conflicts };
}

function differ(group: readonly MixedChange[], mods: readonly number[]): boolean {
  const contentsOf = (id: number): string =>
    group
      .filter(({ modId }) => modId === id)
      .map((change) => `${slotOf(change)}=${change.content}`)
      .sort()
      .join('\n');
  return new Set(mods.map(contentsOf)).size > 1;
}
