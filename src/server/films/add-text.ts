import type { FitShown } from '@/core/fit';
import { filmView } from './film-view';
import { UserError } from '@/platform/user-error';
import { tableOf } from '../desk/read-tables';
import { modRow, replaceEntry } from '../mods/mods';
import { openedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { bytesInMod } from '../mods/bytes-in-mod';
import { filmSource, type FilmKey } from './film-source';
import { putMark } from './put-marks';

/** A text that is to be shown below a film, in whichever languages it has texts in. */
export interface NewText {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

/** A key that goes on from those that are there: the last number of the last one counted on, or one behind it. */
export function nextKey(keys: readonly string[], isTaken: (key: string) => boolean): string {
  const last = keys.at(-1) ?? 'text';
  const [, stem = last, digits] = /^(.*?)(\d+)$/.exec(last) ?? [];
  for (let number = digits === undefined ? 2 : Number(digits) + 1; ; number++) {
    const key =
      digits === undefined ? `${stem}_${number}` : `${stem}${String(number).padStart(digits.length, '0')}`;
    if (!isTaken(key)) return key;
  }
}

/**
 * Adds a text below a film: a line with a key of its own in the table of each language, and a mark that shows it. All of them become changes of the mod. Throws UserError where a table cannot
 * have further lines, before anything is changed.
 */
export async function addText(
  gameId: number,
  key: FilmKey,
  modId: number,
  { from, to, text }: NewText,
): Promise<{ key: string; fit: FitShown }> {
  await modRow(gameId, modId);
  const { archiveId, index } = key;
  const film = await filmView(gameId, { archiveId, index, mod: modId });
  const source = await filmSource(gameId, { archiveId, index, mod: modId });
  const word = source.marks?.entry.group.film?.subtitles?.word;
  source.close();
  if (word === undefined || film.texts.length === 0)
    throw new UserError(
      422,
      `${film.title} shows no texts yet, so that it is not known how they are called. Add a mark that shows one first.`,
    );
  const tables = await Promise.all(
    film.texts.map(async ({ from: { archiveId: of, index: number, path }, name }) => {
      const opened = await openedEntry(gameId, of, number);
      const table = tableOf(await bytesInMod(opened, modId), path);
      if (!table)
        throw new UserError(422, `${path}, which has the texts in ${name}, is no table that can be written.`);
      return { opened, table, path };
    }),
  );
  const taken = new Set(tables.flatMap(({ table }) => table.lines.map((line) => line.key)));
  const fresh = nextKey(
    film.texts[0]!.lines.map((line) => line.key),
    (one) => taken.has(one),
  );
  const made = tables.map(({ opened, table, path }) => ({
    ...{ opened, path },
    bytes: table.write([], [{ key: fresh, texts: table.tongues.map(() => text) }]),
  }));
  for (const { opened, path, bytes } of made) {
    const name = path.slice(path.lastIndexOf('/') + 1);
    await replaceEntry(opened, modId, { name, blob: keepBlob(bytes), size: bytes.length });
  }
  const fit = await putMark(gameId, key, modId, { word, key: fresh, from, to });
  return { key: fresh, fit };
}
