import fs from 'node:fs';
import path from 'node:path';
import { pathProblem } from '@/core/archive';
import { under, type FitShown, type Policy } from '@/core/fit';
import { START_BYTES, tellKind } from '@/core/kinds';
import { ChangeRow } from '@/db';
import { presentGame } from '../games/games';
import { broughtFiles } from '../installing/installations';
import { kindRules } from '../opening/scripts';
import { readBlob } from '../storage/storage';
import { UserError } from '@/platform/user-error';
import { numberOfChange } from './change-slot';
import { asStep } from './history';
import { modRow, type Given } from './mods';
import { foundInChange } from './wording';

/** The folder of the game itself, where no archive is. */
const FOLDER = '.';

/** Adds a file to the game folder, as part of a mod; it goes again with what was installed. */
export async function addFile(
  gameId: number,
  modId: number,
  name: string,
  given: Given,
  like: string,
): Promise<FitShown> {
  const { policy } = await modRow(gameId, modId);
  const problem = pathProblem(name);
  if (problem) throw new UserError(422, `${name} is no path for a file: ${problem}.`);
  const { folder } = await presentGame(gameId);
  const isBrought = (await broughtFiles(gameId)).has(name);
  if (!isBrought && fs.existsSync(path.join(folder, name)))
    throw new UserError(409, `${name} is in the game folder already. Replace it instead.`);
  const slot = { archivePath: FOLDER, entryIndex: numberOfChange(FOLDER, { index: 0, path: name }) };
  const bytes = readBlob(given.blob);
  const { kind } = tellKind(
    name,
    { bytes: bytes.subarray(0, START_BYTES), length: bytes.length },
    kindRules(),
  );
  await asStep(modId, `adding ${name}`, [slot], async () => {
    const before = await ChangeRow.findOne({ where: { modId, ...slot }, attributes: ['note'] });
    await ChangeRow.upsert(
      {
        ...{ modId, ...slot, action: 'add', likeIndex: null, path: name, kind },
        ...{ givenName: given.name, givenBlob: given.blob, givenSize: given.size },
        ...{ preparedBlob: given.blob, preparedSize: given.size, originalSize: 0 },
        mends: [],
        findings: [foundInChange('fits', 'added', { bytes: bytes.length, like })],
        ...{ fit: 'fits', note: before?.note ?? '' },
      },
      { conflictFields: ['mod_id', 'archive_path', 'entry_index'] as never },
    );
  });
  return under(policy as Policy, 'fits');
}
