import {
  ALIKE_LENGTHS,
  isPrint,
  OF_SOUNDS,
  PRINT_BYTES,
  printsApart,
  SOUNDS_ALIKE,
  type SoundPrint,
} from '@/media/sound/core/print';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';
import { keptColumns } from '../entries/measured';
import { knownOf, type Known } from './measure-all';
import { UserError } from '@/platform/user-error';

/** A sound that sounds like another one, and how far they are apart in dB. */
export interface AlikeSound extends EntryRecord {
  readonly apart: number;
}

export interface AlikeSounds extends Known {
  /** Whether it was listened to, and is heard, so that others can be held against it. */
  readonly isKnown: boolean;
  readonly alike: readonly AlikeSound[];
  /** How many more there are. */
  readonly more: number;
}

const MOST_LISTED = 40;

/** Sounds of a game that sound like one of them, the nearest first; among those that were listened to. */
export async function alikeSounds(gameId: number, archiveId: number, index: number): Promise<AlikeSounds> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const { catalogue, archives } = game;
  const listed: Listed = { gameId, catalogue, archives };
  const known = knownOf(game, OF_SOUNDS);
  const position = archives.findIndex(({ id }) => id === archiveId);
  const own = catalogue.rowOf(position, index);
  const wanted = [...prints(listed, position === -1 ? [] : [position])].find(({ row }) => row === own);
  if (!wanted) return { ...known, isKnown: false, alike: [], more: 0 };
  const found: { row: number; apart: number }[] = [];
  for (const { row, length, print } of prints(listed, archives.keys())) {
    const ratio = length / wanted.length;
    if (row === own || ratio > ALIKE_LENGTHS || ratio < 1 / ALIKE_LENGTHS) continue;
    const apart = printsApart(wanted.print, print);
    if (apart <= SOUNDS_ALIKE) found.push({ row, apart });
  }
  found.sort((a, b) => a.apart - b.apart || a.row - b.row);
  const alike = found.slice(0, MOST_LISTED).map(({ row, apart }) => ({ ...recordOf(game, row), apart }));
  return { ...known, isKnown: true, alike, more: found.length - alike.length };
}

type Listed = Pick<GameCatalogue, 'catalogue' | 'archives'> & { readonly gameId: number };

interface Printed {
  readonly row: number;
  /** Seconds. */
  readonly length: number;
  readonly print: SoundPrint;
}

/** Prints of all sounds of some archives that were listened to as they are now. */
function* prints({ gameId, catalogue, archives }: Listed, positions: Iterable<number>): Generator<Printed> {
  const { sizes, modified } = catalogue.columns;
  for (const position of positions) {
    const archive = archives[position]!;
    const columns = archive.path === '' ? undefined : keptColumns(gameId, archive, OF_SOUNDS);
    if (!columns) continue;
    const all = columns.prints as Uint8Array;
    const count = columns.numbers!.length;
    for (let i = 0; i < count && all.length === count * PRINT_BYTES; i++) {
      const row = catalogue.rowOf(position, columns.numbers![i]!);
      // One that is another by now says nothing.
      if (row < 0 || sizes[row] !== columns.sizes![i] || !Object.is(modified[row], columns.modified![i]))
        continue;
      const print = all.subarray(i * PRINT_BYTES, (i + 1) * PRINT_BYTES);
      if (isPrint(print)) yield { row, length: columns.length![i]!, print };
    }
  }
}
