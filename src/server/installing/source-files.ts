import { resolveInside } from '@/platform/node/inside';
import type { GameView } from '../games/games';
import { hashFile } from '../building/hash-file';
import { activeInstallation, places } from './installations';
import { originalFile } from './placing';
import { originalChoices } from './originals';
import { UserError } from '@/platform/user-error';

/**
 * The file to build from: the original, never an archive that an installation has changed already, and what the user said
 * counts as the original. So a mod can be built again while it is installed.
 */
export async function sourceFiles(game: GameView): Promise<(archive: string) => string> {
  const files = (await activeInstallation(game.id))?.files ?? [];
  const choices = await originalChoices(game.id);
  return (archive) => {
    const installed = files.find((file) => file.path === archive);
    const inFolder = resolveInside(game.folder, archive);
    const choice = choices.get(archive);
    // A choice is of the file that was found then; another one is looked at anew.
    const isChosen = choice && choice.original !== choice.found && hashFile(inFolder) === choice.found;
    if (!installed && !isChosen) return inFolder;
    const before = installed ? installed.before : choice!.original;
    const kept = before === null ? undefined : originalFile(places().originals, before);
    if (before === null || hashFile(kept!) !== before)
      throw new UserError(
        409,
        `The kept original of ${archive} is missing or damaged, so nothing is built on it. Get the file anew from the game.`,
      );
    return kept!;
  };
}
