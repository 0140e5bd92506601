import { nameOf, Recipe } from '@/core/recipe';
import { conversionOf, converterOf } from '@/platform/node/convert';
import { TargetNames } from '@/platform/node/extract-files';
import { LOG_NAME } from '@/platform/node/run-log';
import { findEntriesByRef, type EntryRecord } from '../entries/catalogue';
import { marksOf } from '../entries/marks';
import { labelsOf, readableNames } from '../entries/readable-names';
import { pickedBy } from './pick';

/** A file that a run will write, as a preview shows it. */
export interface PlannedFile {
  readonly record: EntryRecord;
  readonly file: string;
  readonly wanted: string;
}

export interface Plan {
  readonly files: readonly PlannedFile[];
  /** What is named that is not there. */
  readonly missing: readonly string[];
}

/** How things are changed and called on their way, and where they go. */
export type Ways = Pick<Recipe, 'convert' | 'name' | 'folder' | 'edited'>;

/** Entries as they are, under their own paths. */
export const AS_THEY_ARE: Omit<Ways, 'folder'> = Recipe.omit({ title: true, pick: true, folder: true }).parse(
  {},
);

/** The files that a recipe would write now. */
export async function planRun(gameId: number, recipe: Recipe): Promise<Plan> {
  const { records, missing } = await pickedBy(gameId, recipe);
  return { files: await namedFiles(gameId, records, recipe), missing };
}

/** The files of entries that are named one by one, under their own paths. */
export async function planEntries(
  gameId: number,
  refs: readonly { archiveId: number; index: number }[],
  ways: Omit<Ways, 'folder'>,
): Promise<Plan> {
  const records = await findEntriesByRef(gameId, refs);
  const missing = refs.length - records.length;
  return {
    files: await namedFiles(gameId, records, ways),
    missing: missing > 0 ? [`${missing} entries that the last scan does not know`] : [],
  };
}

async function namedFiles(
  gameId: number,
  records: readonly EntryRecord[],
  ways: Omit<Ways, 'folder'>,
): Promise<PlannedFile[]> {
  const [marks, readable] = await Promise.all([marksOf(gameId), readableNames(gameId)]);
  const names = new TargetNames();
  // Not to be written over by an entry of the same name.
  names.take(LOG_NAME);
  return records.map((record): PlannedFile => {
    const { path: entryPath, archive, index, hash, kind } = record;
    const alias = marks.byPath.get(entryPath)?.alias ?? '';
    const facts = {
      path: entryPath,
      archive,
      number: index,
      hash,
      alias: alias || labelsOf(readable, entryPath).join(' '),
    };
    const wanted = nameOf(ways, facts, converterOf(conversionOf(ways, kind))?.ending);
    return { record, wanted, file: names.take(wanted) };
  });
}
