import { matchMany, type MatchedBy } from '@/core/mod';
import { findEntries, type EntryItem, type EntryQuery } from '../entries/entries';
import { UserError } from '@/platform/user-error';

/** An entry that a file of a batch may be meant for. */
export interface BatchEntry {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly archive: string;
  /** What it is called. */
  readonly label: string;
}

export interface BatchMatch {
  readonly file: string;
  readonly by: MatchedBy | undefined;
  readonly entries: readonly BatchEntry[];
}

const MOST_ENTRIES = 200_000;

/** Which entries of a list the files of a batch are meant for; nothing is changed yet. */
export async function matchBatch(
  query: Omit<EntryQuery, 'offset' | 'limit'>,
  files: readonly string[],
): Promise<BatchMatch[]> {
  const { rows, total } = await findEntries({ ...query, offset: 0, limit: MOST_ENTRIES });
  if (total > MOST_ENTRIES)
    throw new UserError(
      409,
      `The list has ${total} entries. Narrow it to those that the files are meant for.`,
    );
  // What another archive answers for would not be seen.
  const seen = rows.filter(({ wins }) => wins);
  const called = ({ alias, labels }: EntryItem): string[] => [alias, ...labels].filter((one) => one !== '');
  const matches = matchMany(
    files,
    seen.map((row) => ({ path: row.path, called: called(row) })),
  );
  return matches.map(({ file, by, entries }) => ({
    ...{ file, by },
    entries: entries.map((i): BatchEntry => {
      const { archiveId, index, path, archive } = seen[i]!;
      return { archiveId, index, path, archive, label: called(seen[i]!).join(', ') };
    }),
  }));
}
