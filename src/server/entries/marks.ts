import { MarkRow, models } from '@/db';

/** What the user says of a path. */
export interface Mark {
  readonly path: string;
  readonly tags: readonly string[];
  readonly note: string;
  readonly alias: string;
}

/** All marks of a game. They go by path, so that they survive scans, updates and rebuilt archives. */
export interface Marks {
  readonly byPath: ReadonlyMap<string, Mark>;
  readonly stamp: string;
  tagged(text: string): string[];
  called(text: string): string[];
}

export async function marksOf(gameId: number): Promise<Marks> {
  models();
  const rows = await MarkRow.findAll({ where: { gameId }, order: [['path', 'ASC']] });
  const marks = rows.map(({ path, tags, note, alias }): Mark => ({ path, tags, note, alias }));
  const paths = (fits: (mark: Mark) => boolean): string[] => marks.filter(fits).map(({ path }) => path);
  return {
    byPath: new Map(marks.map((mark) => [mark.path, mark])),
    stamp: JSON.stringify(marks),
    tagged: (text) => paths(({ tags }) => tags.some((tag) => tag.toLowerCase() === text.toLowerCase())),
    called: (text) =>
      paths(
        ({ alias, note }) =>
          alias.toLowerCase().includes(text.toLowerCase()) || note.toLowerCase().includes(text.toLowerCase()),
      ),
  };
}

/** Keeps what the user says of paths; what is left out of `change` stays. A mark that says nothing goes. */
export async function mark(
  gameId: number,
  paths: readonly string[],
  change: { add?: readonly string[]; remove?: readonly string[]; note?: string; alias?: string },
): Promise<void> {
  await models().transaction(async (transaction) => {
    for (const path of paths) {
      const old = await MarkRow.findOne({ where: { gameId, path }, transaction, lock: true });
      const tags = new Set([...(old?.tags ?? []), ...(change.add ?? [])]);
      for (const tag of change.remove ?? []) tags.delete(tag);
      const next = {
        tags: [...tags].sort(),
        note: change.note ?? old?.note ?? '',
        alias: change.alias ?? old?.alias ?? '',
      };
      const saysNothing = next.tags.length === 0 && next.note === '' && next.alias === '';
      if (saysNothing) await old?.destroy({ transaction });
      else if (old) await old.update(next, { transaction });
      else await MarkRow.create({ gameId, path, ...next }, { transaction });
    }
  });
}

/** The tags of a game with how many paths bear them. */
export async function listTags(gameId: number): Promise<{ tag: string; count: number }[]> {
  const counts = new Map<string, number>();
  for (const { tags } of (await marksOf(gameId)).byPath.values())
    for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].map(([tag, count]) => ({ tag, count })).sort((a, b) => a.tag.localeCompare(b.tag));
}
