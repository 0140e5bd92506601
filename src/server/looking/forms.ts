import { rowNumbered, rowSpelled } from '@/core/catalogue';
import { packForm } from '@/media/model/core';
import { needForm } from '@/media/model/node/forms';
import { likest, OF_MATERIALS } from '@/media/model/core/likest';
import { ChangeRow } from '@/db';
import { modRow } from '../mods/mods';
import { findEntry, gameCatalogue, recordOf, type GameCatalogue } from '../entries/catalogue';
import { findRefs } from '../entries/entries';
import { hashIndexOf } from '../entries/links';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { hasLookThread, lookBeside } from './look-threads';
import { wholeEntry } from './preview';
import { UserError } from '@/platform/user-error';

/** A model held in memory, packed so that a page draws it without decoding anything. */
export async function packedForm(bytes: Uint8Array, name: string): Promise<Uint8Array<ArrayBuffer>> {
  const { form, unit } = await needForm(bytes, name, mediaScriptFor);
  return packForm(form, unit);
}

/** The same as an answer, made beside the server. */
export async function formResponse(bytes: Uint8Array, name: string): Promise<Response> {
  const packed = hasLookThread() ? await lookBeside('form', { bytes, name }) : await packedForm(bytes, name);
  return new Response(packed as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': 'private, max-age=0, must-revalidate',
    },
  });
}

/** The model of an entry. */
export const entryForm = (opened: OpenedEntry): Promise<Response> =>
  formResponse(wholeEntry(opened), opened.entry.path);

/** Where a picture of a model is. */
export interface FormPicture {
  /** As its material spells it. */
  readonly path: string;
  /** The entry that answers for it; null where no open archive has one. */
  readonly entry: { readonly archiveId: number; readonly index: number; readonly path: string } | null;
  /** The change of the mod that is looked at with it. */
  readonly change: { readonly id: number; readonly stamp: string } | null;
}

/** Pictures that a model may have, where nothing refers to them. */
export interface FormPictures {
  readonly named: readonly FormPicture[];
  /** Pictures whose names share the most with that of the model, in its folder and beside it. */
  readonly likely: readonly FormPicture[];
}

const MOST_ASKED = 64;
const MOST_LIKELY = 24;
const MOST_BESIDE = 2000;

const folderOf = (path: string): string => path.slice(0, path.lastIndexOf('/') + 1);

/** Where a model is. */
export interface ModelPlace {
  readonly archiveId: number;
  readonly index: number;
}

const rowOfModel = ({ archives, catalogue }: GameCatalogue, { archiveId, index }: ModelPlace): number => {
  const position = archives.findIndex(({ id }) => id === archiveId);
  return position < 0 ? -1 : catalogue.rowOf(position, index);
};

/** The entries that answer for what materials name: a path as it is spelled, beside the model, or by its end; a hash of a name; or the number of an entry. */
export async function namedPictures(
  gameId: number,
  model: ModelPlace,
  paths: readonly string[],
  changes: ReadonlyMap<string, NonNullable<FormPicture['change']>> = new Map(),
): Promise<FormPicture[]> {
  const game = await gameCatalogue(gameId);
  if (!game) throw new UserError(409, 'Scan the folder first.');
  const own = rowOfModel(game, model);
  return paths.map((path) => {
    const row =
      rowSpelled(game.catalogue, path, own) ??
      rowNumbered(
        game.catalogue,
        path,
        own,
        () => hashIndexOf(game),
        (at) => recordOf(game, at).kind === OF_MATERIALS,
      );
    if (row === undefined) return { path, entry: null, change: null };
    const { archiveId, index, path: at } = recordOf(game, row);
    return { path, entry: { archiveId, index, path: at }, change: changes.get(at) ?? null };
  });
}

/** Finds the pictures that materials name, by their path or by the end of it, and others that are called like the model. */
export async function formPictures(
  gameId: number,
  model: ModelPlace,
  paths: readonly string[],
  modId: number | undefined,
): Promise<FormPictures> {
  if (paths.length > MOST_ASKED) throw new UserError(400, `At most ${MOST_ASKED} pictures at a time.`);
  const changes = await changesOf(gameId, modId);
  const named = await namedPictures(gameId, model, paths, changes);
  const modelPath = (await findEntry(gameId, model.archiveId, model.index))?.path ?? '';
  const folder = folderOf(modelPath);
  const beside = await findRefs(
    {
      ...{ gameId, folder, search: '', kind: OF_MATERIALS, archiveId: undefined },
      ...{ sort: 'path', isDescending: false, offset: 0, limit: 0 },
    },
    MOST_BESIDE,
  );
  return {
    named,
    likely: likest(modelPath, beside, MOST_LIKELY).map(({ archiveId, index, path }) => ({
      ...{ path, entry: { archiveId, index, path }, change: changes.get(path) ?? null },
    })),
  };
}

/** What a mod puts in the place of paths, ready to be looked at. */
async function changesOf(
  gameId: number,
  modId: number | undefined,
): Promise<Map<string, NonNullable<FormPicture['change']>>> {
  if (modId === undefined) return new Map();
  await modRow(gameId, modId);
  const rows = await ChangeRow.findAll({ where: { modId } });
  return new Map(
    rows.flatMap(({ path, id, preparedBlob }) =>
      preparedBlob === null ? [] : [[path, { id, stamp: preparedBlob.slice(0, 16) }] as const],
    ),
  );
}
