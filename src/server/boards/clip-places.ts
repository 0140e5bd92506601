import { GameRow } from '@/db';
import { gameCatalogue, recordOf, type EntryRecord, type GameCatalogue } from '../entries/catalogue';

/** A sound by the paths of its archive and its own. */
export interface ClipPath {
  readonly game: number;
  readonly archive: string;
  readonly path: string;
}

/** Where a clip is now; or why it is nowhere. */
export type ClipPlace =
  | { readonly entry: EntryRecord; readonly gameTitle: string }
  | { readonly entry: undefined; readonly gameTitle: string; readonly why: string };

/** Where clips are now, in their order. */
export async function placesOf(clips: readonly ClipPath[]): Promise<ClipPlace[]> {
  const titles = new Map((await GameRow.findAll()).map(({ id, title }) => [id, title]));
  const games = new Map<number, GameCatalogue | undefined>();
  for (const { game } of clips)
    if (!games.has(game)) games.set(game, titles.has(game) ? await gameCatalogue(game) : undefined);
  return clips.map((clip) => {
    const gameTitle = titles.get(clip.game) ?? '';
    const entry = entryOf(games.get(clip.game), clip);
    if (entry) return { entry, gameTitle };
    const why = !titles.has(clip.game)
      ? 'its game was taken off the shelf'
      : !games.get(clip.game)
        ? `${gameTitle} is not scanned`
        : `${clip.archive} of ${gameTitle} has no ${clip.path} now`;
    return { entry, gameTitle, why };
  });
}

function entryOf(game: GameCatalogue | undefined, { archive, path }: ClipPath): EntryRecord | undefined {
  const row = game?.catalogue
    .stack(path)
    .find((one) => game.archives[game.catalogue.columns.archives[one]!]!.path === archive);
  return game && row !== undefined ? recordOf(game, row) : undefined;
}
