import { tongueOf } from '@/core/catalogue';
import { DeskTextRow, DeskTongueRow } from '@/db';
import { modRow } from '../mods/mods';
import { UserError } from '@/platform/user-error';
import { gameTongues } from './desk';
import { notify } from './live';

/** Has a mod bring a language that the game has not; `name` is what players read in the list of languages. */
export async function addTongue(gameId: number, modId: number, word: string, name: string): Promise<string> {
  await modRow(gameId, modId);
  const tongue = tongueOf(word);
  if (tongue === undefined)
    throw new UserError(
      422,
      `${word} is no language that is known here. Give its code (ISO 639-1, such as nl) or its English name.`,
    );
  const known = (await gameTongues(gameId, modId)).find((one) => one.tongue === tongue);
  if (known && !known.isNew)
    throw new UserError(409, `The game has ${known.name} already. Choose it as the target.`);
  await DeskTongueRow.upsert({ modId, tongue, name }, { conflictFields: ['mod_id', 'tongue'] as never });
  notify(modId);
  return tongue;
}

/** Takes a language back that nothing was translated into. */
export async function dropTongue(gameId: number, modId: number, tongue: string): Promise<void> {
  await modRow(gameId, modId);
  const lines = await DeskTextRow.count({ where: { modId, tongue } });
  if (lines > 0)
    throw new UserError(
      409,
      `${lines} lines are translated into it. Put them back first; nothing was changed.`,
    );
  await DeskTongueRow.destroy({ where: { modId, tongue } });
  notify(modId);
}
