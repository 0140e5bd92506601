import { FormatError, memorySource } from '@/core/bytes';
import { withMeaning } from '@/core/script';
import { ReadingLinkRow } from '@/db';
import { OWN_TABLE } from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import { wholeEntry } from '../looking/preview';
import { keepChecked } from '../opening/check-script';
import { openedEntry } from '../opening/opened';
import { isOwn } from '../opening/own-scripts';
import { mediaScriptFor } from '../opening/scripts';
import { MOST_TABLE_BYTES } from './laid-tables';
import { MADE_FORM } from './named-rows';
import { readGame, type GameLink, type Reading } from './reading';
import { tableAt } from './reading-view';
import { isTable, shortName } from './words';

/** Where it was written. */
export interface MeaningWritten {
  readonly script: string;
  readonly title: string;
  readonly version: number;
  /** Whether the script shipped with the application, so that a script of one's own was made of it. */
  readonly isCopy: boolean;
}

/** Writes into the script of a table that a column of it means rows of another one, so that whoever has the script knows it. */
export async function writeMeaning(
  gameId: number,
  { table, field }: { readonly table: string; readonly field: string },
): Promise<MeaningWritten> {
  const reading = await readGame(gameId);
  const { number, of } = tableAt(reading, table);
  const link = reading.links.find(
    (one) => one.from === number && of.fields[one.field]!.path === field && one.source !== 'refused',
  );
  if (!link) throw new UserError(404, `Nothing is known of what ${field} of ${table} means.`);
  const [file] = of.files;
  if (!of.table.said || !file)
    throw new UserError(
      409,
      `${table} is read without a script: its form is ${of.form}. What you say of it is kept with the game.`,
    );
  if (reading.tables[link.to]!.form === MADE_FORM)
    throw new UserError(
      409,
      `A script says whose rows a field means, and not files. What you say of ${field} is kept with the game.`,
    );
  const means = nameFor(reading, link);
  const opened = await openedEntry(gameId, file.archiveId, file.index);
  const found = mediaScriptFor(memorySource(wholeEntry(opened, MOST_TABLE_BYTES), file.path), 'table');
  if (!found) throw new UserError(409, `No script reads ${table} any more. Look at it again.`);
  const { id, script } = found;
  const kept = await keepChecked(written(script.text, field, means), isOwn(id) ? id : undefined);
  await ReadingLinkRow.destroy({ where: { gameId, fromTable: table, field } });
  return { script: kept.id, title: script.title, version: kept.version, isCopy: !isOwn(id) };
}

function written(text: string, field: string, means: string): string {
  try {
    return withMeaning(text, field, means);
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(422, error.message);
  }
}

/** What a script calls a table by: its name without folder and ending, or the whole path where others have the same name. A table that means itself says so, since the script may read others as well. */
function nameFor({ tables, keys }: Reading, { from, to, by }: GameLink): string {
  const { id, fields } = tables[to]!;
  const first = (isMeant: (table: number) => boolean) => keys.find(({ table }) => isMeant(table));
  const names: [string, (table: number) => boolean][] =
    from === to
      ? [[OWN_TABLE, (table) => table === to]]
      : [shortName(id), id].map((name) => [name, (table) => isTable(tables[table]!.id, name)]);
  for (const [name, isMeant] of names) {
    const key = first(isMeant);
    if (key?.table === to && key.field === by) return name;
  }
  throw new UserError(
    409,
    `A script means rows of ${id} by what they are called by first, which is not ${fields[by]!.path}. What you say of it here is kept with the game.`,
  );
}
