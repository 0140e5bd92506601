import { stemFor, type TakeSettings } from '@/media/model/core/take';
import { needForm } from '@/media/model/node/forms';
import { takeModel, toldOfTake, type HeldFile, type ToTake } from '@/media/model/node/take';
import { openedEntry, type OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { namedPictures } from './forms';
import { keptFile } from './kept-file';
import { hasLookThread, lookBeside } from './look-threads';
import { wholeEntry } from './preview';

/** Where an entry is. */
export interface EntryPlace {
  readonly archiveId: number;
  readonly index: number;
}

/** What of a model is taken out, whose clips go along, and pictures that were put on by hand, by the paths that they are in the place of. */
export interface WantedTake {
  readonly settings: TakeSettings;
  readonly clips: EntryPlace | undefined;
  readonly worn: Readonly<Record<string, EntryPlace>>;
}

const heldOf = (opened: OpenedEntry): HeldFile => ({ bytes: wholeEntry(opened), name: opened.entry.path });

async function asked(
  gameId: number,
  opened: OpenedEntry,
  settings: TakeSettings,
  clipsOf: EntryPlace | undefined,
): Promise<ToTake> {
  const other = clipsOf && heldOf(await openedEntry(gameId, clipsOf.archiveId, clipsOf.index));
  return { ...heldOf(opened), settings, other, pictures: [] };
}

/** What would be taken out: counts, materials, clips with their keys and how far they would be off. */
export async function toldModelTake(
  gameId: number,
  opened: OpenedEntry,
  settings: TakeSettings,
  clipsOf: EntryPlace | undefined,
): Promise<unknown> {
  const take = await asked(gameId, opened, settings, clipsOf);
  return hasLookThread() ? lookBeside('taken', take) : toldOfTake(take, mediaScriptFor);
}

/** A model as a file to keep, with the pictures that its materials name, in whichever archive they are. */
export async function modelDownload(
  gameId: number,
  opened: OpenedEntry,
  { settings, clips, worn }: WantedTake,
): Promise<Response> {
  const take = await asked(gameId, opened, settings, clips);
  const pictures = settings.as === 'glb' || settings.as === 'gltf' ? await picturesOf(opened, worn) : [];
  const whole = { ...take, pictures };
  const made = hasLookThread()
    ? await lookBeside('takeModel', whole)
    : await takeModel(whole, mediaScriptFor);
  return keptFile(stemFor(settings.called, take.name), made);
}

async function picturesOf(opened: OpenedEntry, worn: WantedTake['worn']): Promise<ToTake['pictures']> {
  const { gameId, row, entry: own } = opened;
  const { bytes, name } = heldOf(opened);
  const { form } = await needForm(bytes, name, mediaScriptFor);
  const paths = [...new Set(form.materials.flatMap(({ pictures }) => Object.values(pictures)))];
  const named = await namedPictures(gameId, { archiveId: row.id, index: own.index }, paths);
  const places = new Map<string, EntryPlace>(
    named.flatMap(({ path, entry }): [string, EntryPlace][] => (entry ? [[path, entry]] : [])),
  );
  for (const [path, place] of Object.entries(worn)) places.set(path, place);
  const found: (HeldFile & { path: string })[] = [];
  for (const [path, { archiveId, index }] of places)
    found.push({ path, ...heldOf(await openedEntry(gameId, archiveId, index)) });
  return found;
}
