import { typeOfHead } from '@/core/kinds';
import { openArchive, type EntryStore, type StoredEntry } from '@/core/archive';
import { FormatError, collect, memorySource, type BytesRef, type ByteSource } from '@/core/bytes';
import { isIvf, readIvfHead, readTracks, type ReadStretch } from '@/media/film/core';
import { readModelHead } from '@/media/model/core';
import { tellsOf } from '@/media/archive/core';
import type { Head } from '@/media/head';
import { decodeAnyText, textHead } from '@/media/text/core/encoding';
import {
  decodeImage,
  FIRST,
  looksLikeTga,
  usesAlpha,
  type Beside,
  type Texture,
} from '@/media/picture/core/texture';
import { viewOf } from '@/core/script';
import { KeyRow, models } from '@/db';
import { besideEntry, withBeside, wrappedSoundOf } from '@/platform/node/media-scripts';
import { pixelsBy, sharp, textureOf } from '@/media/picture/node/pictures';
import { nodePrimitives } from '@/platform/node/primitives';
import { mediaScriptFor, tellingScriptFor } from './scripts';
import type { ArchiveRow } from '@/db';
import { presentGame } from './games';
import { hasLookThread, lookBeside } from './look-threads';
import { keysWith } from './open-file';
import { openedEntry, stampOfEntry } from './opened';
import { UserError } from './user-error';

/** An entry up to this length is unpacked to tell what it is; of a longer one that is packed only the beginning. */
const MOST_WHOLE_BYTES = 8 << 20;
const FIRST_BYTES = 256 << 10;
const SHOWN_BYTES = 12;

/** The first `limit` bytes of something, without going through the rest. */
export function firstBytes(ref: BytesRef, limit: number): Uint8Array {
  const out = new Uint8Array(Math.min(limit, ref.length));
  let at = 0;
  for (const chunk of ref.chunks()) {
    out.set(chunk.subarray(0, out.length - at), at);
    at = Math.min(out.length, at + chunk.length);
    if (at >= out.length) break;
  }
  return out;
}

declare global {
  var zeroLatchHeads: Map<string, Head> | undefined;
}

/** Heads that are kept, so that scrolling back costs nothing. */
const MOST_KEPT = 20_000;

/** What the heads of some entries tell, in the order they are asked for. One that cannot be read says why; the others are told. */
export async function entryHeads(
  gameId: number,
  refs: readonly { archiveId: number; index: number }[],
): Promise<Head[]> {
  const heads: Head[] = [];
  for (const { archiveId, index } of refs) {
    heads.push(await keptHead(gameId, archiveId, index));
    // Others are served in between.
    await new Promise(setImmediate);
  }
  return heads;
}

async function keptHead(gameId: number, archiveId: number, index: number): Promise<Head> {
  const kept = (globalThis.zeroLatchHeads ??= new Map<string, Head>());
  try {
    const { row, archive, entry } = await openedEntry(gameId, archiveId, index);
    const stamp = stampOfEntry(gameId, row, entry);
    const known = kept.get(stamp);
    if (known) return known;
    const head = await headBeside(gameId, row, archive, entry);
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(stamp, head);
    return head;
  } catch (error) {
    if (!(error instanceof FormatError || error instanceof UserError)) throw error;
    return { sort: 'problem', message: error.message };
  }
}

/**
 * The head of an entry, read beside the server where there is a thread for it: readers of containers go round for ever in some damaged
 * files, and a thread can be ended.
 */
export async function headBeside(
  gameId: number,
  row: ArchiveRow,
  archive: EntryStore,
  entry: StoredEntry,
  most?: number,
): Promise<Head> {
  if (!hasLookThread()) return readHead(gameId, archive, entry, most);
  const { path, size } = entry;
  const loose = row.sort === 'loose' ? { folder: (await presentGame(gameId)).folder, path, size } : undefined;
  const { head } = await lookBeside({
    ...{ sort: 'head', gameId, archiveId: row.id, index: entry.index },
    ...(most !== undefined && { most }),
    ...(loose && { loose }),
  });
  return head;
}

/** What an entry tells of itself, read from as little of it as will do; at most `most` bytes are held. */
export async function readHead(
  gameId: number,
  archive: EntryStore,
  entry: StoredEntry,
  most = MOST_WHOLE_BYTES,
): Promise<Head> {
  const plain = archive.plain(entry);
  const name = entry.path;
  const whole = plain.span || plain.length > most ? undefined : memorySource(collect(plain), name);
  const source = plain.span ? named(viewOf(plain.span.source, plain.span.offset, plain.length), name) : whole;
  const first = source
    ? source.read(0, Math.min(FIRST_BYTES, source.length)).slice()
    : firstBytes(plain, FIRST_BYTES);
  return (
    (await pictureHead(source, first, name, most, besideEntry(archive, name))) ??
    (await wrappedSoundHead(source, first, name, most)) ??
    (await trackHead(source, first)) ??
    modelHead(source, first, name, most) ??
    (await toldHead(gameId, source)) ??
    textOrData(source, first, most)
  );
}

const named = (source: ByteSource, name: string): ByteSource => ({
  name,
  length: source.length,
  read: (offset, length) => source.read(offset, length),
});

/** All bytes of a source that is short enough to be held. */
const held = (source: ByteSource | undefined, most: number): Uint8Array | undefined =>
  source && source.length <= most ? source.read(0, source.length).slice() : undefined;

async function pictureHead(
  source: ByteSource | undefined,
  first: Uint8Array,
  name: string,
  most: number,
  beside: Beside,
): Promise<Head | undefined> {
  const type = typeOfHead(first);
  const isTga = /\.tga$/i.test(name) && looksLikeTga(first);
  const isWrapped = mediaScriptFor(source ?? memorySource(first, name), 'picture') !== undefined;
  if (isWrapped || isTga || OWN_READERS.has(type?.ending ?? '')) {
    const bytes = held(source, most);
    if (!bytes) return { sort: 'large' };
    withBeside(bytes, beside);
    try {
      const texture = textureOf(bytes, name, mediaScriptFor);
      if (texture) {
        const { width, height, levels, layout } = texture;
        return { sort: 'picture', width, height, levels, layout: layout.title, alpha: alphaOf(texture) };
      }
      const pixels = await pixelsBy(bytes, name, mediaScriptFor);
      const { width, height } = pixels;
      const layout = (type?.ending ?? 'tga').toUpperCase();
      return { sort: 'picture', width, height, levels: 1, layout, alpha: usesAlpha(pixels) };
    } catch (error) {
      // What only bears the tag of a picture may still be data that somebody knows.
      if (isWrapped || !(error instanceof FormatError)) throw error;
      return { sort: 'problem', message: error.message };
    }
  }
  if (type?.kind !== 'picture') return undefined;
  try {
    const {
      width = 0,
      height = 0,
      format,
    } = await sharp(held(source, most) ?? first, { limitInputPixels: false }).metadata();
    return { sort: 'picture', width, height, levels: 1, layout: (format ?? type.ending).toUpperCase() };
  } catch (error) {
    return {
      sort: 'problem',
      message: `${name}: its head cannot be read as ${type.ending}: ${(error as Error).message}`,
    };
  }
}

/** A level of so many texels a side tells well enough whether anything is see-through. */
const ALPHA_SIDE = 256;

function alphaOf(texture: Texture): boolean | undefined {
  if (texture.layout.alpha === 'none') return false;
  const { width, height, levels } = texture;
  const wanted = Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / ALPHA_SIDE)));
  const level = Math.min(levels - 1, wanted);
  if (Math.max(width, height) >> level > 4 * ALPHA_SIDE) return undefined;
  return usesAlpha(decodeImage(texture, { ...FIRST, level }));
}

/** The head of a sound that a script describes: that of what it wraps. */
async function wrappedSoundHead(
  source: ByteSource | undefined,
  first: Uint8Array,
  name: string,
  most: number,
): Promise<Head | undefined> {
  if (!mediaScriptFor(source ?? memorySource(first, name), 'sound')) return undefined;
  const bytes = held(source, most);
  if (!bytes) return { sort: 'large' };
  const sound = wrappedSoundOf(bytes, name, mediaScriptFor);
  return sound && trackHead(memorySource(sound.inner, name), sound.inner.subarray(0, FIRST_BYTES));
}

async function trackHead(source: ByteSource | undefined, first: Uint8Array): Promise<Head | undefined> {
  if (isIvf(first)) return readIvfHead(first);
  const type = typeOfHead(first);
  if (type?.kind !== 'sound' && type?.kind !== 'film') return undefined;
  const read: ReadStretch = (offset, length) => {
    const from = source ? source.length : first.length;
    const part = [Math.min(offset, from), Math.min(length, Math.max(0, from - offset))] as const;
    return source ? source.read(...part).slice() : first.subarray(part[0], part[0] + part[1]);
  };
  const head = await readTracks(source?.length ?? first.length, read);
  if (head || !source) return head ?? { sort: 'large' };
  return { sort: type.kind === 'sound' ? 'sound' : 'film', codec: type.ending.toUpperCase(), ...NO_TRACKS };
}

/** Pictures that are read here, not by a package. */
const OWN_READERS = new Set(['dds', 'ktx2', 'bmp', 'psd', 'ora']);

const NO_TRACKS = { width: 0, height: 0, sounds: 0 } as const;

function modelHead(
  source: ByteSource | undefined,
  first: Uint8Array,
  name: string,
  most: number,
): Head | undefined {
  const ending = /\.([^./]+)$/.exec(name)?.[1]?.toLowerCase() ?? '';
  const isModel = typeOfHead(first)?.kind === 'model' || MODEL_ENDINGS.has(ending);
  return isModel ? readModelHead(held(source, most) ?? first, ending) : undefined;
}

const MODEL_ENDINGS = new Set(['gltf', 'glb', 'obj', 'stl', 'ply']);

/** What a script says that such a file tells; with the keys of the game where it needs one. */
async function toldHead(gameId: number, source: ByteSource | undefined): Promise<Head | undefined> {
  const shelved = source && tellingScriptFor(source);
  if (!shelved) return undefined;
  models();
  const keys = shelved.script.keys.size > 0 ? await KeyRow.findAll({ where: { gameId } }) : [];
  let last: FormatError | undefined;
  for (const bytes of [undefined, ...keys.map((key) => new Uint8Array(key.bytes))]) {
    try {
      const archive = openArchive(shelved.script, source, {
        primitives: nodePrimitives,
        keys: keysWith(shelved.script, bytes),
      });
      try {
        return { sort: 'told', facts: tellsOf(archive) };
      } finally {
        archive.discard();
      }
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      last = error;
    }
  }
  return { sort: 'problem', message: last!.message };
}

function textOrData(source: ByteSource | undefined, first: Uint8Array, most: number): Head {
  const bytes = held(source, most);
  const text = decodeAnyText(bytes ?? first);
  if (text && bytes) return textHead(text);
  if (text) return { sort: 'large' };
  const shown = [...first.subarray(0, SHOWN_BYTES)].map((byte) => byte.toString(16).padStart(2, '0'));
  return { sort: 'data', first: shown.join(' ') };
}
