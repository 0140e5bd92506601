import type { FitShown } from '@/core/fit';
import { codeOfKind } from '@/core/kinds';
import {
  textsAround,
  textsAt,
  withHeldText,
  type HeldEncoding,
  type HeldText,
} from '@/media/film/core/program-texts';
import { UserError } from '@/platform/user-error';
import { gameCatalogue, recordOf } from '../entries/catalogue';
import { isOfFolder } from '../mods/change-slot';
import { modRow, replaceEntry } from '../mods/mods';
import { openedEntry } from '../opening/opened';
import { keepBlob } from '../storage/storage';
import { bytesInMod } from '../mods/bytes-in-mod';
import { secondsOf } from './film-view';
import type { FilmKey } from './film-source';
import { openFilm } from './open-films';

/** Texts that were found in one program of a game. */
export interface FoundTexts {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly texts: readonly HeldText[];
}

const PROGRAM = codeOfKind('program');
/** What is known by nothing may be a program, where it is a file of the folder. */
const DATA = codeOfKind('data');
/** Larger ones are not looked through while somebody waits. */
const MOST_BYTES = 64 << 20;
const MOST_PROGRAMS = 20;

/** Looks for a text of a film in the programs of its game, as a mod has them by now. */
export async function findProgramTexts(
  gameId: number,
  key: FilmKey,
  text: string,
  modId: number | undefined,
): Promise<FoundTexts[]> {
  const seconds = secondsOf(await openFilm(gameId, key));
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { kinds, sizes, archives: positions } = game.catalogue.columns;
  const mayBe = (row: number): boolean =>
    kinds[row] === PROGRAM || (kinds[row] === DATA && isOfFolder(game.archives[positions[row]!]!.path));
  const found: FoundTexts[] = [];
  for (let row = 0, looked = 0; row < game.catalogue.count && looked < MOST_PROGRAMS; row++) {
    if (!mayBe(row) || sizes[row]! > MOST_BYTES) continue;
    looked++;
    const { archiveId, index, path } = recordOf(game, row);
    const bytes = await bytesInMod(await openedEntry(gameId, archiveId, index), modId, MOST_BYTES);
    const texts = textsAround(bytes, text, seconds);
    if (texts.length > 0) found.push({ archiveId, index, path, texts });
  }
  return found;
}

/** Where a text lies in a program. */
export interface TextPlace {
  readonly archiveId: number;
  readonly index: number;
  readonly offset: number;
  readonly encoding: HeldEncoding;
}

/** The table of texts around a place that was found before, as a mod has it by now. */
export async function programTextsAt(
  gameId: number,
  key: FilmKey,
  { archiveId, index, offset, encoding }: TextPlace,
  modId: number | undefined,
): Promise<FoundTexts[]> {
  const seconds = secondsOf(await openFilm(gameId, key));
  const opened = await openedEntry(gameId, archiveId, index);
  const bytes = await bytesInMod(opened, modId, MOST_BYTES);
  return [{ archiveId, index, path: opened.entry.path, texts: textsAt(bytes, offset, encoding, seconds) }];
}

/** Puts another text in the place of one that a program keeps, which becomes a change of the mod; an empty one silences it. */
export async function putProgramText(
  gameId: number,
  key: FilmKey,
  modId: number,
  { text, ...place }: TextPlace & { readonly text: string },
): Promise<FitShown> {
  await modRow(gameId, modId);
  const { archiveId, index, offset } = place;
  const opened = await openedEntry(gameId, archiveId, index);
  const bytes = await bytesInMod(opened, modId, MOST_BYTES);
  const [found] = await programTextsAt(gameId, key, place, modId);
  const held = found!.texts.find((one) => one.offset === offset);
  if (!held)
    throw new UserError(409, `${opened.entry.path} has no text at byte ${offset}. Look for it again.`);
  const made = withHeldText(bytes, held, text);
  const name = opened.entry.path.slice(opened.entry.path.lastIndexOf('/') + 1);
  return replaceEntry(opened, modId, { name, blob: keepBlob(made), size: made.length });
}
