import type { FitShown } from '@/core/fit';
import { readSubtitles, type Subtitle } from '@/media/film/core';
import { withTexts } from '@/media/sound/core/spoken-line';
import { decodeAnyText } from '@/media/text/core/encoding';
import { UserError } from '@/platform/user-error';
import { modRow, replaceEntry } from '../mods/mods';
import { openedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { bytesInMod } from '../mods/bytes-in-mod';
import { filmView } from './film-view';
import type { FilmKey } from './film-source';

/** Puts other texts below a film in one language: into the table that they are kept in, which becomes a change of the mod. */
export async function putTexts(
  gameId: number,
  key: FilmKey,
  modId: number,
  language: string,
  texts: ReadonlyMap<string, string>,
): Promise<FitShown> {
  await modRow(gameId, modId);
  const film = await filmView(gameId, { ...key, mod: modId });
  const own = film.texts.find((one) => one.language === language);
  if (!own) throw new UserError(404, `${film.title} has no texts in that language.`);
  const opened = await openedEntry(gameId, own.from.archiveId, own.from.index);
  const facts = decodeAnyText(await bytesInMod(opened, modId));
  if (facts?.encoding !== 'utf-8')
    throw new UserError(422, `${own.from.path} is no text in UTF-8; change it in the contents.`);
  const { table, missing } = withTexts(facts.text, texts);
  if (missing.length > 0)
    throw new UserError(
      422,
      `${own.from.path} has no line ${missing.slice(0, 3).join(', ')}. Nothing was changed.`,
    );
  const bytes = new TextEncoder().encode(`${facts.mark ? '\ufeff' : ''}${table}`);
  const name = own.from.path.slice(own.from.path.lastIndexOf('/') + 1);
  return replaceEntry(opened, modId, { name, blob: keepBlob(bytes), size: bytes.length });
}

export interface TakenTexts {
  /** By key, what a file says in its place. */
  readonly texts: readonly { readonly key: string; readonly was: string; readonly text: string }[];
  readonly problems: readonly string[];
}

const overlap = (a: Subtitle, b: Subtitle): number => Math.min(a.to, b.to) - Math.max(a.from, b.from);

/** What a file of subtitles says for each of the texts that a film shows: that of as many in their order, else that which is shown at the same time. Nothing is changed. */
export async function matchTexts(
  gameId: number,
  key: FilmKey,
  language: string,
  file: string,
): Promise<TakenTexts> {
  const film = await filmView(gameId, key);
  const own = film.texts.find((one) => one.language === language);
  if (!own) throw new UserError(404, `${film.title} has no texts in that language.`);
  const { lines, problems } = readSubtitles(file);
  if (lines.length === 0)
    throw new UserError(422, 'The file has no texts with times, as SRT and VTT have them.');
  const isInOrder = lines.length === own.lines.length;
  const used = new Set<Subtitle>();
  const texts = own.lines.flatMap((line, i) => {
    const found = isInOrder
      ? lines[i]!
      : lines.filter((one) => overlap(one, line) > 0).sort((a, b) => overlap(b, line) - overlap(a, line))[0];
    if (!found) return [];
    used.add(found);
    return found.text === line.text ? [] : [{ key: line.key, was: line.text, text: found.text }];
  });
  const unused = lines.length - used.size;
  return {
    texts,
    problems: [
      ...problems.map(({ line, what }) => (line > 0 ? `line ${line}: ${what}` : what)),
      ...(unused > 0
        ? [
            `${unused} of ${lines.length} texts have no place: the film shows ${own.lines.length}, at times that its marks say`,
          ]
        : []),
    ],
  };
}
