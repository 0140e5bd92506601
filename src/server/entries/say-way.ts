import { gameCatalogue } from './catalogue';
import { forgetEntry, forgetMeasured } from './measured';
import { keepWay, type WaySaid } from './way-choices';

/** Says in which way sounds are to be read, which are other sounds then: what was measured of them is forgotten. Gives what was said before. */
export async function sayWay(gameId: number, said: WaySaid): Promise<number | null> {
  const before = await keepWay(gameId, said);
  if (said.scope === 'script') {
    forgetMeasured(gameId);
    return before;
  }
  const game = await gameCatalogue(gameId);
  for (const row of game?.catalogue.stack(said.name) ?? []) {
    const { archive, number } = game!.catalogue.at(row);
    forgetEntry(gameId, game!.archives[archive]!, number);
  }
  return before;
}
