import { NAMED_FILES } from './named-files';
import { openReading } from './open-reading';
import { rowView, type RowView } from './row-view';

/** What names an entry of the game. */
export interface NamingEntry {
  /** The row that it is among the files that are named; null where nothing names it. */
  readonly row: number | null;
  readonly usedBy: RowView['usedBy'];
}

/** Rows of tables, programs and scripts that name an entry, by its path or by its hash. */
export async function namingEntry(gameId: number, archiveId: number, number: number): Promise<NamingEntry> {
  const reading = await openReading(gameId);
  const files = reading.tables[reading.byId.get(NAMED_FILES) ?? -1]?.files ?? [];
  const row = files.findIndex((file) => file.archiveId === archiveId && file.index === number);
  if (row < 0) return { row: null, usedBy: [] };
  return { row, usedBy: (await rowView(reading, NAMED_FILES, row)).usedBy };
}
