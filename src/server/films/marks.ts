import { createHash } from 'node:crypto';
import { tonguesIn, tongueName } from '@/core/catalogue';
import { collect, FormatError } from '@/core/bytes';
import { codeOfKind } from '@/core/kinds';
import { unitsASecond } from '@/core/mod';
import type { Archive } from '@/core/archive';
import { markLines } from '@/core/streams';
import type { FilmTrack, Subtitle } from '@/media/film/core';
import { keyedLines } from '@/media/sound/core/spoken-line';
import { decodeAnyText } from '@/media/text/core/encoding';
import { gameCatalogue, recordOf, type EntryRecord } from '../entries/catalogue';
import { openedEntry } from '../opening/opened';
import { UserError } from '@/platform/user-error';
import type { FilmSource } from './film-source';
import { bytesInMod } from '../mods/bytes-in-mod';

/** A place in a film that has a name. */
export interface FilmMark {
  readonly seconds: number;
  readonly text: string;
}

/** Texts of a film in one language, and the table that they are kept in. */
export interface FilmTexts {
  readonly language: string;
  readonly name: string;
  readonly lines: readonly (Subtitle & { readonly key: string })[];
  /** Changes with the texts. */
  readonly stamp: string;
  readonly from: Pick<EntryRecord, 'archiveId' | 'index' | 'path' | 'archive'>;
}

const MOST_MARK_BYTES = 1 << 20;
const MOST_TABLES = 60;
const MOST_TABLE_BYTES = 2 << 20;
const TEXT = codeOfKind('text');

/** What a film has marks for; empty where it has none that can be read. */
export function marksOf({ marks, markText, opened }: FilmSource): readonly FilmMark[] {
  if (!marks || !markText || markText.length > MOST_MARK_BYTES) return [];
  const units = unitsASecond(opened.archive as Archive, marks.entry);
  try {
    return markLines(collect(markText)).map(({ time, text }) => ({
      ...{ seconds: time / units, text },
    }));
  } catch (error) {
    // Marks of another sort are none that can be shown.
    if (error instanceof FormatError) return [];
    throw error;
  }
}

interface Wanted {
  readonly key: string;
  readonly from: number;
  readonly to: number;
}

/** Marks that show a text: the word of the script, its key, and for how many units of time. */
export function wantedTexts(
  marks: readonly FilmMark[],
  track: FilmTrack | undefined,
  units: number,
): Wanted[] {
  const word = track?.entry.group.film?.subtitles?.word;
  if (word === undefined) return [];
  return marks.flatMap(({ seconds, text }) => {
    const [first, key, length] = text.split(/\s+/);
    if (first !== word || !key || !Number.isFinite(Number(length))) return [];
    return [{ key, from: seconds, to: seconds + Number(length) / units }];
  });
}

/** The texts that a film shows, in each language that a table of them is there in. */
export async function textsOf(source: FilmSource, marks: readonly FilmMark[]): Promise<FilmTexts[]> {
  const { gameId, opened, mod } = source;
  const units = source.marks ? unitsASecond(opened.archive as Archive, source.marks.entry) : 1000;
  const wanted = wantedTexts(marks, source.marks, units);
  const tables = source.marks?.entry.group.film?.subtitles?.tables.toLowerCase();
  const game = wanted.length > 0 ? await gameCatalogue(gameId) : undefined;
  if (!game || tables === undefined) return [];
  const { catalogue, archives } = game;
  const { kinds, sizes, archives: positions } = catalogue.columns;
  const found: FilmTexts[] = [];
  for (let row = 0; row < catalogue.count && found.length < MOST_TABLES; row++) {
    if (kinds[row] !== TEXT || sizes[row]! > MOST_TABLE_BYTES || archives[positions[row]!]!.path === '')
      continue;
    const path = catalogue.path(row).toLowerCase();
    if (path !== tables && !path.endsWith(`/${tables}`)) continue;
    if (!catalogue.at(row).wins) continue;
    const from = recordOf(game, row);
    const lines = await linesIn(gameId, from, { wanted, mod });
    if (lines.length === 0) continue;
    const [language = ''] = tonguesIn(from.path);
    const stamp = createHash('sha1').update(JSON.stringify(lines)).digest('hex').slice(0, 12);
    found.push({
      language,
      name: language === '' ? 'No language' : tongueName(language),
      lines,
      from,
      stamp,
    });
  }
  return found.sort((a, b) => a.name.localeCompare(b.name));
}

interface Asked {
  readonly wanted: readonly Wanted[];
  readonly mod: number | undefined;
}

async function linesIn(
  gameId: number,
  { archiveId, index }: EntryRecord,
  { wanted, mod }: Asked,
): Promise<FilmTexts['lines']> {
  try {
    const opened = await openedEntry(gameId, archiveId, index);
    const table = decodeAnyText(await bytesInMod(opened, mod));
    const texts = new Map(keyedLines(table?.text ?? ''));
    return wanted.flatMap((one) => (texts.has(one.key) ? [{ ...one, text: texts.get(one.key)! }] : []));
  } catch (error) {
    if (error instanceof FormatError || error instanceof UserError) return [];
    throw error;
  }
}
