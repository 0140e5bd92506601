import { gameCatalogue } from '../entries/catalogue';
import { findGame } from '../games/games';
import { enqueue } from '../running/jobs';
import { listenedOf, type Listened } from './listen';

declare global {
  var zeroLatchListening: Map<number, string> | undefined;
}

/**
 * How many sounds of a game are measured. The first who asks after a scan has the worker measure the others; whoever stops that has it stopped
 * until the next scan.
 */
export async function listening(gameId: number): Promise<Listened> {
  const game = await gameCatalogue(gameId);
  if (!game) return { sounds: 0, measured: 0 };
  const listened = listenedOf(game);
  const asked = (globalThis.zeroLatchListening ??= new Map<number, string>());
  if (listened.measured === listened.sounds || asked.get(gameId) === game.scan) return listened;
  asked.set(gameId, game.scan);
  const { title } = await findGame(gameId);
  await enqueue('listen', `Listen to the sounds of ${title}`, { gameId });
  return listened;
}
