import { worst, type FitShown } from '@/core/fit';
import { planSwap, type SwapPlan } from '@/core/mod';
import { gameCatalogue, findStack } from '../entries/catalogue';
import { modRow, placeEntry } from './mods';
import { changeSlot } from './change-slot';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { wholeEntry } from '../looking/preview';
import { keepBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';
import { asStep } from './history';
import { originalEntry } from './original-entry';

const MOST_PAIRS = 500;
const MOST_ROWS = 20_000;

async function planned(gameId: number, target: string, source: string): Promise<SwapPlan> {
  if (target === source) throw new UserError(422, 'Both sets are the same. Choose another one to take from.');
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'The folder is not scanned yet. Scan it first.');
  const paths: string[] = [];
  const { catalogue } = game;
  for (const start of [target, source]) {
    const [from, to] = catalogue.within(start);
    // Of a path that several archives have, one stands for all.
    for (let row = from; row < to && paths.length <= MOST_ROWS; row++) paths.push(catalogue.path(row));
  }
  const plan = planSwap([...new Set(paths)], target, source);
  if (plan.pairs.length > MOST_PAIRS)
    throw new UserError(
      422,
      `More than ${MOST_PAIRS} paths begin with ${target}. Write more of the beginning.`,
    );
  return plan;
}

export const previewSwap = planned;

/** Takes a set over under the names of another one, as one step. What has no counterpart is left as it is. */
export async function swapSet(
  gameId: number,
  modId: number,
  target: string,
  source: string,
): Promise<{ swapped: number; fit: FitShown }> {
  await modRow(gameId, modId);
  const { pairs } = await planned(gameId, target, source);
  const winnerOf = async (path: string): Promise<OpenedEntry> => {
    const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
    if (!winner) throw new UserError(410, `${path} is no longer in an open archive. Scan the folder again.`);
    return openedEntry(gameId, winner.archiveId, winner.index);
  };
  const work = await Promise.all(
    pairs.flatMap(({ target: to, source: from }) =>
      from === undefined
        ? []
        : [
            (async () => {
              const slot = await winnerOf(to);
              return { from, slot, kept: await changeSlot(slot) };
            })(),
          ],
    ),
  );
  if (work.length === 0)
    throw new UserError(
      422,
      `Nothing that begins with ${source} has a counterpart that begins with ${target}.`,
    );
  const slots = work.map(({ kept }) => kept);
  return asStep(modId, `swapping ${target} for ${source}`, slots, async () => {
    const fits: FitShown[] = [];
    for (const { from, slot } of work) {
      const bytes = wholeEntry(await originalEntry(await winnerOf(from)));
      const given = {
        name: from.slice(from.lastIndexOf('/') + 1),
        blob: keepBlob(bytes),
        size: bytes.length,
      };
      fits.push(await placeEntry(slot, modId, given));
    }
    return {
      swapped: work.length,
      fit: worst(fits.map((fit) => ({ state: fit === 'let pass' ? 'look' : fit }))),
    };
  });
}
