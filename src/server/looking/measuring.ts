import type { Kind } from '@/core/kinds';
import { MEDIA_NODE } from '@/media/node';
import { gameCatalogue } from '../entries/catalogue';
import { findGame } from '../games/games';
import { scriptsStamp } from '../opening/scripts';
import { enqueue } from '../running/jobs';
import { knownOf, type Known } from './measure-all';

declare global {
  var zeroLatchMeasuring: Map<string, string> | undefined;
}

/**
 * How many entries of each kind of a game are measured. The first who asks after a scan, or after scripts for that kind or what counts as it changed, has the
 * worker measure the others; whoever stops that has it stopped until then.
 */
export async function measuring(gameId: number, kinds: readonly Kind[]): Promise<Known[]> {
  const game = await gameCatalogue(gameId);
  if (!game) return kinds.map((kind) => ({ kind, all: 0, measured: 0 }));
  const all = kinds.map((kind) => knownOf(game, kind));
  const asked = (globalThis.zeroLatchMeasuring ??= new Map<string, string>());
  for (const { kind, all: count, measured } of all) {
    const key = `${gameId} ${kind}`;
    // As many more as somebody says to be of the kind.
    const stamp = `${game.scan} ${scriptsStamp(kind)} ${count}`;
    if (measured === count || asked.get(key) === stamp) continue;
    asked.set(key, stamp);
    const { title } = await findGame(gameId);
    const { words } = MEDIA_NODE.find((medium) => medium.kind === kind)!.measure!;
    await enqueue('measure', `${words.job} ${title}`, { gameId, kind });
  }
  return all;
}
