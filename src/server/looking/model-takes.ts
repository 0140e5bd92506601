import type { TakeSettings } from '@/media/model/core/take';
import { needForm } from '@/media/model/node/forms';
import { takeModel, toldOfTake, type HeldFile, type ToTake } from '@/media/model/node/take';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { namedPictures } from './forms';
import { keptFile } from './kept-file';
import { hasLookThread, lookBeside } from './look-threads';
import { wholeEntry } from './preview';

/** The entry whose clips are taken. */
export interface ClipsOf {
  readonly archiveId: number;
  readonly index: number;
}

const heldOf = (opened: OpenedEntry): HeldFile => ({ bytes: wholeEntry(opened), name: opened.entry.path });

async function asked(
  gameId: number,
  opened: OpenedEntry,
  settings: TakeSettings,
  clipsOf: ClipsOf | undefined,
): Promise<ToTake> {
  const other = clipsOf && heldOf(await openedEntry(gameId, clipsOf.archiveId, clipsOf.index));
  return { ...heldOf(opened), settings, other, pictures: [] };
}

/** What would be taken out: counts, materials, clips with their keys and how far they would be off. */
export async function toldModelTake(
  gameId: number,
  opened: OpenedEntry,
  settings: TakeSettings,
  clipsOf: ClipsOf | undefined,
): Promise<unknown> {
  const take = await asked(gameId, opened, settings, clipsOf);
  return hasLookThread() ? lookBeside('taken', take) : toldOfTake(take, mediaScriptFor);
}

/** A model as a file to keep, with the pictures that its materials name, in whichever archive they are. */
export async function modelDownload(
  gameId: number,
  opened: OpenedEntry,
  settings: TakeSettings,
  clipsOf: ClipsOf | undefined,
): Promise<Response> {
  const take = await asked(gameId, opened, settings, clipsOf);
  const pictures = settings.as === 'glb' || settings.as === 'gltf' ? await picturesOf(gameId, take) : [];
  const whole = { ...take, pictures };
  const made = hasLookThread()
    ? await lookBeside('takeModel', whole)
    : await takeModel(whole, mediaScriptFor);
  return keptFile(take.name, made);
}

async function picturesOf(gameId: number, { bytes, name }: HeldFile): Promise<ToTake['pictures']> {
  const { form } = await needForm(bytes, name, mediaScriptFor);
  const paths = [...new Set(form.materials.flatMap(({ pictures }) => Object.values(pictures)))];
  const found: (HeldFile & { path: string })[] = [];
  for (const { path, entry } of await namedPictures(gameId, name, paths))
    if (entry) found.push({ path, ...heldOf(await openedEntry(gameId, entry.archiveId, entry.index)) });
  return found;
}
