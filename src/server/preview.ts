import sharp from 'sharp';
import { typeOfHead, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, collect, memorySource, type BytesRef } from '@/core/bytes';
import { readWaveFacts, type WaveFacts } from '@/core/media/audio';
import { decodeAnyText } from '@/core/media/text';
import { decodeLevel, openPicture, usesAlpha, type Pixels, type WrappedPicture } from '@/core/media/texture';
import { sealNames } from '@/core/script';
import { factsOfEntry, findEntry, findStack } from './catalogue';
import { nodePrimitives } from '@/platform/node/primitives';
import { labelsOf, readableNames } from './readable-names';
import { marksOf } from './marks';
import { openedEntry } from './opened';
import { pictureScriptFor } from './scripts';
import { UserError } from './user-error';

/** What is looked at whole: a picture, a text, a sound's head. Larger things are extracted instead. */
const MOST_LOOK_BYTES = 64 * 1024 * 1024;
const MOST_TEXT_BYTES = 2 * 1024 * 1024;

export type Look =
  | { sort: 'picture'; width: number; height: number; layout: string; levels: number; alpha: boolean }
  | ({ sort: 'sound'; playable: boolean } & Partial<WaveFacts>)
  | { sort: 'text'; encoding: string; lineEnds: string; lines: number; text: string; whole: boolean }
  | { sort: 'data' }
  | { sort: 'problem'; message: string };

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
  /** Fields that the script shows, with their titles. */
  readonly facts: readonly (readonly [title: string, value: string])[];
  readonly modified: number | null;
  /** Readable names of codes in the path, from the game's id tables. */
  readonly labels: readonly string[];
  readonly alias: string;
  readonly tags: readonly string[];
  readonly note: string;
  /** Every archive that has this path, the one that answers first. */
  readonly stack: readonly {
    archiveId: number;
    index: number;
    archive: string;
    wins: boolean;
    size: number;
  }[];
}

/** The first `limit` bytes of something, without going through the rest. */
export function headOf(ref: BytesRef, limit: number): Uint8Array {
  const out = new Uint8Array(Math.min(limit, ref.length));
  let at = 0;
  for (const chunk of ref.chunks()) {
    out.set(chunk.subarray(0, out.length - at), at);
    at = Math.min(out.length, at + chunk.length);
    if (at >= out.length) break;
  }
  return out;
}

/** All plain bytes of an entry that is small enough to be looked at. */
export function wholeEntry(archive: EntryStore, entry: StoredEntry): Uint8Array {
  if (entry.size > MOST_LOOK_BYTES)
    throw new UserError(
      413,
      `${entry.path} has ${entry.size} bytes; things of up to ${MOST_LOOK_BYTES / 2 ** 20} MB are shown here. Extract it instead.`,
    );
  return collect(archive.plain(entry));
}

/** A wrapped picture, or undefined where no script knows the bytes as one. */
export function wrappedPicture(bytes: Uint8Array, name: string): WrappedPicture | undefined {
  const shelved = pictureScriptFor(memorySource(bytes, name));
  return shelved && openPicture(shelved.script, bytes, name, nodePrimitives);
}

async function lookAt(bytes: Uint8Array, name: string): Promise<Look> {
  const wrapped = wrappedPicture(bytes, name);
  if (wrapped) {
    const { width, height, levels, layout } = wrapped;
    return {
      sort: 'picture',
      width,
      height,
      levels,
      layout: layout.title,
      alpha: layout.alpha !== 'none' && usesAlpha(decodeLevel(wrapped)),
    };
  }
  const type = typeOfHead(bytes);
  if (type?.kind === 'picture') {
    const { width = 0, height = 0, hasAlpha = false, format } = await sharp(bytes).metadata();
    return {
      sort: 'picture',
      width,
      height,
      levels: 1,
      layout: (format ?? type.ending).toUpperCase(),
      alpha: hasAlpha,
    };
  }
  if (type?.ending === 'wav') return { sort: 'sound', playable: true, ...readWaveFacts(bytes) };
  if (type?.kind === 'sound') return { sort: 'sound', playable: true };
  const text = decodeAnyText(bytes);
  if (!text) return { sort: 'data' };
  const whole = bytes.length <= MOST_TEXT_BYTES;
  return {
    sort: 'text',
    encoding: text.encoding,
    lineEnds: text.lineEnds,
    lines: text.text === '' ? 0 : text.text.replace(/\n$/, '').split('\n').length,
    text: whole ? text.text : text.text.slice(0, MOST_TEXT_BYTES),
    whole,
  };
}

export async function entryDetail(gameId: number, archiveId: number, index: number): Promise<EntryDetail> {
  const { row, archive, entry } = await openedEntry(gameId, archiveId, index);
  const record = await findEntry(gameId, archiveId, entry.index);
  const { path, named } = record ?? entry;
  const stack = await findStack(gameId, path);
  const mark = (await marksOf(gameId)).byPath.get(path);
  let look: Look;
  let transforms: string[] = [];
  try {
    transforms = sealNames(archive.steps(entry));
    look = await lookAt(wholeEntry(archive, entry), path);
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    look = { sort: 'problem', message: error.message };
  }
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
    facts: await factsOfEntry(gameId, archiveId, index),
    modified: entry.modified ?? null,
    labels: labelsOf(await readableNames(gameId), path),
    alias: mark?.alias ?? '',
    tags: mark?.tags ?? [],
    note: mark?.note ?? '',
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

export type Channel = 'colour' | 'red' | 'green' | 'blue' | 'alpha';

/** Texels of an entry that is a picture, whatever it is wrapped in. */
export async function entryPixels(
  gameId: number,
  archiveId: number,
  index: number,
  level = 0,
): Promise<Pixels> {
  const { archive, entry } = await openedEntry(gameId, archiveId, index);
  return pixelsOf(wholeEntry(archive, entry), entry.path, level);
}

export async function pixelsOf(bytes: Uint8Array, name: string, level = 0): Promise<Pixels> {
  const wrapped = wrappedPicture(bytes, name);
  if (wrapped) {
    if (level >= wrapped.levels) throw new UserError(400, `${name} has ${wrapped.levels} levels.`);
    return decodeLevel(wrapped, level);
  }
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
}

/** A PNG of a picture, of one of its channels in grey, or scaled down to `most` texels a side. */
export async function toPng(
  { width, height, data }: Pixels,
  channel: Channel = 'colour',
  most?: number,
): Promise<Buffer> {
  let image = sharp(Buffer.from(data.buffer, data.byteOffset, data.length), {
    raw: { width, height, channels: 4 },
  });
  if (channel !== 'colour') image = image.extractChannel(channel).toColourspace('b-w');
  if (most !== undefined)
    image = image.resize({ width: most, height: most, fit: 'inside', withoutEnlargement: true });
  return image.png({ compressionLevel: 3 }).toBuffer();
}

/** A stretch of the plain bytes for looking at them; ends where the entry ends. */
export async function entryBytes(
  gameId: number,
  archiveId: number,
  index: number,
  offset: number,
  length: number,
): Promise<Uint8Array> {
  const { archive, entry } = await openedEntry(gameId, archiveId, index);
  const ref = archive.plain(entry);
  if (ref.span)
    return ref.span.source
      .read(
        ref.span.offset + Math.min(offset, ref.length),
        Math.max(0, Math.min(length, ref.length - offset)),
      )
      .slice();
  return headOf(ref, offset + length).slice(offset);
}
