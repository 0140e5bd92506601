import { endingOf, type Kind } from '@/core/kinds';
import { FormatError, collect, windowOf } from '@/core/bytes';
import type { TracksOf } from '@/media/sound/core/fit';
import { readTracks } from '@/media/film/core';
import type { Look } from '@/media/look';
import { nodeOf } from '@/media/node';
import {
  channelOf,
  decodeImage,
  FIRST,
  shrunk,
  sizeAt,
  usesAlpha,
  type Pixels,
  type Place,
} from '@/media/picture/core/texture';
import { ROLE_NAMES, roleOf } from '@/core/mod';
import { sealNames } from '@/core/script';
import { headBeside } from './heads';
import { factsOfEntry, findEntry, findStack, type EntryRecord } from '../entries/catalogue';
import { besideEntry, describedIn, withBeside } from '@/platform/node/media-scripts';
import { MOST_TEXELS, pixelsBy, textureOf, toPng } from '@/media/picture/node/pictures';
import { hasLookThread, lookBeside, type ShownAs } from './look-threads';
import { labelsOf, readableNames } from '../entries/readable-names';
import { kindChoices, saidKinds } from '../entries/kinds';
import { marksOf } from '../entries/marks';
import type { OpenedEntry } from '../opening/opened';
import { mediaScriptFor } from '../opening/scripts';
import { UserError } from '@/platform/user-error';

/** What is looked at whole: a picture, a text, a sound's head. Larger things are extracted instead. */
export const MOST_LOOK_BYTES = 64 * 1024 * 1024;
/** Pictures are looked at in parts, so that they may be larger: 16384 x 16384 texels in blocks of 16 bytes with all levels. */
export const MOST_PICTURE_BYTES = 512 * 1024 * 1024;

export interface EntryDetail {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly named: boolean;
  readonly hash: string | null;
  readonly archive: string;
  readonly offset: number;
  readonly storedSize: number;
  readonly size: number;
  readonly transforms: readonly string[];
  readonly problem: string | null;
  readonly look: Look;
  readonly guessed: boolean;
  readonly kind: Kind;
  /** What the user said of it, by its path or its ending; null for nothing. */
  readonly said: { readonly path: Kind | null; readonly ending: Kind | null };
  /** Fields that the script shows, with their titles. */
  readonly facts: readonly (readonly [title: string, value: string])[];
  readonly modified: number | null;
  /** Readable names of codes in the path, from the game's id tables. */
  readonly labels: readonly string[];
  /** What a sheet is for (colour, normal, mask ...), by what its name ends in or by what the user says that this means; null where nothing tells. */
  readonly role: string | null;
  readonly alias: string;
  readonly tags: readonly string[];
  readonly note: string;
  /** What was measured of it, where it was. */
  readonly measured: EntryRecord['measured'] | null;
  /** Every archive that has this path, the one that answers first. */
  readonly stack: readonly {
    archiveId: number;
    index: number;
    archive: string;
    wins: boolean;
    size: number;
  }[];
}

/** All plain bytes of an entry that is small enough to be looked at. */
export function wholeEntry(
  { archive, entry }: Pick<OpenedEntry, 'archive' | 'entry'>,
  most = MOST_LOOK_BYTES,
): Uint8Array {
  if (entry.size > most)
    throw new UserError(
      413,
      `${entry.path} has ${entry.size} bytes; things of up to ${most / 2 ** 20} MB are shown here. Extract it instead.`,
    );
  return withBeside(
    collect(archive.plain(entry)),
    besideEntry(archive, entry.path),
    describedIn(archive, entry),
  );
}

async function lookAt(opened: OpenedEntry): Promise<Look> {
  const { entry } = opened;
  let head = await headBeside(opened, MOST_LOOK_BYTES);
  if (head.sort === 'large' && entry.size <= MOST_PICTURE_BYTES && hasLookThread())
    head = await headBeside(opened, MOST_PICTURE_BYTES);
  let bytes: Uint8Array | undefined;
  const file = { name: entry.path, size: entry.size, bytes: () => (bytes ??= wholeEntry(opened)) };
  const look = await nodeOf(head.sort)?.look?.(head, file, { scripts: mediaScriptFor, isSeeThrough });
  return look ?? (head as Look);
}

export async function entryDetail(opened: OpenedEntry): Promise<EntryDetail> {
  const { gameId, row, archive, entry } = opened;
  const [archiveId, index] = [row.id, entry.index];
  const record = await findEntry(gameId, archiveId, entry.index);
  const { path, named } = record ?? entry;
  const stack = await findStack(gameId, path);
  const mark = (await marksOf(gameId)).byPath.get(path);
  const choices = saidKinds(await kindChoices(gameId));
  let look: Look;
  let transforms: string[] = [];
  try {
    transforms = sealNames(archive.steps(entry));
    look = await lookAt(opened);
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    look = { sort: 'problem', message: error.message };
  }
  const labels = labelsOf(await readableNames(gameId), path);
  const said = labels.map((label) => label.toLowerCase());
  return {
    archiveId,
    index,
    path,
    named,
    hash: entry.hash ?? null,
    archive: row.path,
    offset: entry.offset,
    storedSize: entry.storedSize,
    size: entry.size,
    transforms,
    problem: entry.problem?.message ?? null,
    guessed: record?.guessed ?? false,
    kind: record?.kind ?? 'data',
    said: { path: choices.paths.get(path) ?? null, ending: choices.endings.get(endingOf(path)) ?? null },
    facts: await factsOfEntry(gameId, archiveId, index),
    modified: entry.modified ?? null,
    labels,
    role: ROLE_NAMES.find((name) => said.includes(name)) ?? roleOf(path)?.role ?? null,
    alias: mark?.alias ?? '',
    tags: mark?.tags ?? [],
    note: mark?.note ?? '',
    measured: record?.measured ?? null,
    look,
    stack: stack.map(({ archiveId: id, index: at, archive: name, wins, size }) => ({
      archiveId: id,
      index: at,
      archive: name,
      wins,
      size,
    })),
  };
}

/** Texels of an entry that is a picture, whatever it is wrapped in. */
export const entryPixels = (opened: OpenedEntry, place: Place = FIRST): Promise<Pixels> =>
  pixelsOf(wholeEntry(opened), opened.entry.path, place);

/** Texels of an entry's picture for one that is at most so many texels a side: of the smallest stored level that has as many. */
export const smallPixels = (opened: OpenedEntry, most: number): Promise<Pixels> =>
  smallPixelsOf(wholeEntry(opened, MOST_PICTURE_BYTES), opened.entry.path, most);

/** The same of bytes that are held. */
export async function smallPixelsOf(bytes: Uint8Array, name: string, most: number): Promise<Pixels> {
  const texture = textureOf(bytes, name, mediaScriptFor);
  if (!texture) return pixelsOf(bytes, name);
  let level = 0;
  while (level + 1 < texture.levels && sizeAt(Math.max(texture.width, texture.height), level + 1) >= most)
    level++;
  const place = { ...FIRST, level };
  const texels = sizeAt(texture.width, level) * sizeAt(texture.height, level);
  return texels > MOST_TEXELS ? shrunk(texture, place, 2 * most) : decodeImage(texture, place);
}

/** Texels of a picture; unpacked beside the server where there is a thread for it, which is given some time and memory and no more. */
export async function pixelsOf(bytes: Uint8Array, name: string, place: Place = FIRST): Promise<Pixels> {
  if (!hasLookThread()) return pixelsBy(bytes, name, mediaScriptFor, place);
  return lookBeside('pixels', { bytes, name, place });
}

/** What a container of sound or film tells, read beside the server: see `headBeside`. */
export const tracksBeside: TracksOf = async (bytes) =>
  hasLookThread()
    ? lookBeside('tracks', { bytes, name: '' })
    : readTracks(bytes.length, (offset, length) => bytes.subarray(offset, offset + length));

async function isSeeThrough(bytes: Uint8Array, name: string): Promise<boolean> {
  if (!hasLookThread()) return usesAlpha(await pixelsOf(bytes, name));
  return lookBeside('alpha', { bytes, name });
}

/** A PNG of a picture; its texels never come to where others are answered. */
export async function pngOf(bytes: Uint8Array, name: string, as: Partial<ShownAs> = {}): Promise<Uint8Array> {
  const whole = { place: FIRST, channel: 'colour', inverted: false, most: undefined, ...as } as const;
  if (hasLookThread()) return lookBeside('png', { bytes, name, ...whole });
  return new Uint8Array(await shownPng(await pixelsOf(bytes, name, whole.place), whole));
}

/** A PNG of texels. A channel that is to be inverted is taken out here; all else as it is. */
export const shownPng = (pixels: Pixels, { channel, inverted, most }: ShownAs): Promise<Buffer> =>
  inverted && channel !== 'colour'
    ? toPng(channelOf(pixels, channel, true), 'colour', most)
    : toPng(pixels, channel, most);

/** A PNG of an entry that is a picture. */
export const entryPng = (opened: OpenedEntry, as: ShownAs): Promise<Uint8Array> =>
  pngOf(wholeEntry(opened), opened.entry.path, as);

/** A stretch of the plain bytes for looking at them; ends where the entry ends. */
export const entryBytes = ({ archive, entry }: OpenedEntry, offset: number, length: number): Uint8Array =>
  windowOf(archive.plain(entry), offset, length);
