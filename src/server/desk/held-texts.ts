import { codeOfKind } from '@/core/kinds';
import { DeskHeldRow } from '@/db';
import { heldStrings, type HeldString } from '@/media/program/core/held-strings';
import type { HeldPlace } from '@/media/text/core/lines';
import { UserError } from '@/platform/user-error';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { isOfFolder } from '../mods/change-slot';
import { modRow } from '../mods/mods';
import { notify } from './live';
import { MOST_PROGRAM_BYTES, originalBytes } from './read-tables';

const PROGRAM = codeOfKind('program');
/** What is known by nothing may be a program, where it is a file of the folder. */
const DATA = codeOfKind('data');
const MOST_PROGRAMS = 20;
/** So many texts are told at once; a search narrows them. */
const MOST_TOLD = 500;

interface HeldIn extends HeldString {
  readonly archive: string;
  readonly path: string;
}

/** A text of a program, and whether it stands on the desk. */
export interface FoundHeld extends HeldIn {
  readonly isOn: boolean;
}

export interface FoundHelds {
  readonly texts: readonly FoundHeld[];
  readonly total: number;
  readonly programs: readonly string[];
}

/** Files of a game that are programs, or may be. */
export function programsOf(game: GameCatalogue): EntryRecord[] {
  const { kinds, sizes, archives: positions } = game.catalogue.columns;
  const found: EntryRecord[] = [];
  for (let row = 0; row < game.catalogue.count && found.length < MOST_PROGRAMS; row++) {
    const archive = game.archives[positions[row]!]!.path;
    const mayBe = kinds[row] === PROGRAM || (kinds[row] === DATA && isOfFolder(archive));
    if (mayBe && sizes[row]! <= MOST_PROGRAM_BYTES) found.push(recordOf(game, row));
  }
  return found;
}

const slotOf = ({ archive, path }: { readonly archive: string; readonly path: string }): string =>
  `${archive}\0${path}`;

/** All texts for people in the programs of a game, as the originals have them. */
async function allHeld(gameId: number): Promise<{ texts: HeldIn[]; programs: string[] }> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'The game is not scanned yet. Scan its folder first.');
  const programs = programsOf(game);
  const texts: HeldIn[] = [];
  for (const record of programs) {
    const { archive, path } = record;
    for (const held of heldStrings(await originalBytes(gameId, record, MOST_PROGRAM_BYTES)))
      texts.push({ ...held, archive, path });
  }
  return { texts, programs: programs.map(({ path }) => path) };
}

/** Texts for people that the programs of a game keep, of those with a word in them. */
export async function findHeld(gameId: number, modId: number, search: string): Promise<FoundHelds> {
  await modRow(gameId, modId);
  const on = await heldOf(modId);
  const low = search.trim().toLocaleLowerCase();
  const { texts, programs } = await allHeld(gameId);
  const found = texts.filter(({ text }) => low === '' || text.toLocaleLowerCase().includes(low));
  return {
    texts: found.slice(0, MOST_TOLD).map((one) => ({
      ...one,
      isOn: on.get(slotOf(one))?.some(({ offset }) => offset === one.offset) ?? false,
    })),
    total: found.length,
    programs,
  };
}

/** Places of texts on the desk of a mod, by the archive and path of their programs. */
export async function heldOf(modId: number): Promise<Map<string, HeldPlace[]>> {
  const found = new Map<string, HeldPlace[]>();
  const rows = await DeskHeldRow.findAll({ where: { modId }, order: [['byteOffset', 'ASC']], raw: true });
  for (const row of rows) {
    const { byteOffset, encoding, room } = row;
    const place = { offset: Number(byteOffset), encoding, room };
    const own = found.get(slotOf(row));
    if (own) own.push(place);
    else found.set(slotOf(row), [place]);
  }
  return found;
}

/** Puts texts of programs on the desk, or takes them off; what was written for one stays kept. */
export async function putOnDesk(
  gameId: number,
  modId: number,
  places: readonly { readonly archive: string; readonly path: string; readonly offset: number }[],
  isOn: boolean,
): Promise<void> {
  await modRow(gameId, modId);
  const { texts } = isOn ? await allHeld(gameId) : { texts: [] };
  const known = new Map(texts.map((one) => [`${slotOf(one)}\0${one.offset}`, one]));
  for (const place of places) {
    const { archive, path, offset } = place;
    if (!isOn) {
      await DeskHeldRow.destroy({ where: { modId, archive, path, byteOffset: offset } });
      continue;
    }
    const held = known.get(`${slotOf(place)}\0${offset}`);
    if (!held) throw new UserError(409, `${path} has no text at byte ${offset}. Look for it again.`);
    const { encoding, room } = held;
    await DeskHeldRow.upsert(
      { modId, archive, path, byteOffset: offset, encoding, room },
      { conflictFields: ['mod_id', 'archive', 'path', 'byte_offset'] as never },
    );
  }
  notify(modId);
}
