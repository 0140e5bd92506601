import { parentPort, workerData } from 'node:worker_threads';
import { FormatError } from '@/core/bytes';
import type { EntryStore, StoredEntry } from '@/core/archive';
import { readTracks } from '@/media/film/core';
import { FIRST, usesAlpha, type Pixels } from '@/media/picture/core/texture';
import { looseEntry, looseStore } from '@/platform/node/loose-store';
import {
  type LooseAt,
  type FromLookThread,
  type LookTask,
  type LookThreadData,
  type ToLookThread,
} from '@/server/looking/look-threads';
import type { Prepared } from '@/core/fit';
import { readHead } from '@/server/looking/heads';
import { prepare } from '@/server/mods/prepare';
import { checkScriptText } from '@/server/opening/own-scripts';
import { openedEntry } from '@/server/opening/opened';
import { withSent } from '@/platform/node/media-scripts';
import { MOST_TEXELS, TexelGate, texelsOfHead, textureOf, toPng } from '@/media/picture/node/pictures';
import { MOST_PICTURE_BYTES, pixelsOf, shownPng, smallPixelsOf, wholeEntry } from '@/server/looking/preview';
import { texelsOf, type TexelFacts } from '@/server/looking/texels';
import { mediaScriptFor, scriptShelf } from '@/server/opening/scripts';
import { UserError } from '@/platform/user-error';

/** Makes thumbnails and reads heads beside the server, which answers others meanwhile. */
async function answer({ id, task }: ToLookThread): Promise<FromLookThread> {
  try {
    if (task.sort === 'script') return { id, check: checkScriptText(task.text) };
    if (task.sort === 'tracks') {
      const { bytes } = task;
      const tracks = await readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length));
      return { id, tracks };
    }
    if (task.sort === 'fit') return { id, prepared: await fitHere(task) };
    if ('bytes' in task) return { id, ...(await answerForBytes(task)) };
    const { gameId, archiveId, index } = task;
    if (task.sort === 'thumbnail') {
      const { archive, entry } = await openedEntry(gameId, archiveId, index);
      const bytes = wholeEntry(archive, entry, MOST_PICTURE_BYTES);
      const png = await gated(bytes, entry.path, async () =>
        toPng(await smallPixelsOf(bytes, entry.path, task.most), 'colour', task.most),
      );
      return { id, png: new Uint8Array(png) };
    }
    const { archive, entry } =
      task.sort === 'head' && task.loose ? looseAt(task.loose) : await openedEntry(gameId, archiveId, index);
    if (task.sort === 'texels') return { id, texels: await largeTexels(task, archive, entry) };
    return { id, head: await readHead(gameId, archive, entry, task.most) };
  } catch (error) {
    if (error instanceof FormatError) return { id, format: { code: error.code, facts: error.facts } };
    if (error instanceof UserError) return { id, user: { status: error.status, message: error.message } };
    return { id, failure: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}

/** Pictures that are unpacked at the same time have as many texels as two of the largest together. */
const gate = new TexelGate(2 * MOST_TEXELS);

/** Does something with a picture once there is room for its texels. */
async function gated<T>(bytes: Uint8Array, name: string, work: () => Promise<T>): Promise<T> {
  const texture = textureOf(bytes, name, mediaScriptFor);
  const texels = texture ? texture.width * texture.height : await texelsOfHead(bytes);
  // Of what tells no size, four texels a byte are taken: rows of one byte each run.
  return gate.run(texels ?? 4 * bytes.length, work);
}

/** A loose file as the only entry of a store. */
function looseAt({ folder, path, size }: LooseAt): { archive: EntryStore; entry: StoredEntry } {
  const entry = looseEntry(0, { path, size, modified: undefined });
  return { archive: looseStore(folder, [entry]), entry };
}

type OfBytes = Exclude<Extract<LookTask, { bytes: Uint8Array }>, { sort: 'tracks' | 'fit' }>;

function fitHere(task: Extract<LookTask, { sort: 'fit' }>): Promise<Prepared> {
  const { bytes, name, kind, given, givenName, mends, along } = task;
  if (along) withSent(bytes, along);
  return prepare(bytes, name, kind, given, givenName, new Set(mends));
}

function answerForBytes(task: OfBytes) {
  const { bytes, name, along } = task;
  if (along) withSent(bytes, along);
  return gated(bytes, name, async () => {
    if (task.sort === 'texels of') return { texels: await texelsOf(bytes, name, task.place, task.part) };
    const pixels = await pixelsOf(bytes, name, task.sort === 'alpha' ? FIRST : task.place);
    if (task.sort === 'pixels') return { pixels };
    if (task.sort === 'alpha') return { alpha: usesAlpha(pixels) };
    return { png: new Uint8Array(await shownPng(pixels, task)) };
  });
}

/** The last large picture stays unpacked for a while, since it is looked at in parts. */
let unpacked: { readonly key: string; readonly bytes: Uint8Array } | undefined;
let forgets: NodeJS.Timeout | undefined;
const KEPT_MS = 30_000;

async function largeTexels(
  { gameId, archiveId, index, place, part }: LookTask & { sort: 'texels' },
  archive: EntryStore,
  entry: StoredEntry,
): Promise<{ pixels: Pixels; facts: TexelFacts }> {
  const key = `${gameId} ${archiveId} ${index} ${entry.offset} ${entry.storedSize}`;
  if (unpacked?.key !== key) {
    unpacked = undefined;
    unpacked = { key, bytes: wholeEntry(archive, entry, MOST_PICTURE_BYTES) };
  }
  clearTimeout(forgets);
  forgets = setTimeout(() => (unpacked = undefined), KEPT_MS).unref();
  return texelsOf(unpacked.bytes, entry.path, place, part);
}

// What every look needs, read while nobody waits yet.
scriptShelf();

/** While one waits for the database, or its PNG is written by the package's own threads, the next is read; more would only take memory. */
const { atOnce } = workerData as LookThreadData;
const waiting: ToLookThread[] = [];
let busy = 0;

/** Texels and pictures are handed over rather than copied, unless others hold the same memory. */
function send(message: FromLookThread): void {
  const bytes =
    'png' in message
      ? message.png
      : 'pixels' in message
        ? message.pixels.data
        : 'texels' in message
          ? message.texels.pixels.data
          : undefined;
  const isOwn = bytes?.buffer instanceof ArrayBuffer && bytes.byteLength === bytes.buffer.byteLength;
  parentPort!.postMessage(message, isOwn && bytes.buffer !== unpacked?.bytes.buffer ? [bytes.buffer] : []);
}

async function work(): Promise<void> {
  busy++;
  for (let message = waiting.shift(); message; message = waiting.shift()) send(await answer(message));
  busy--;
}
parentPort?.on('message', (message: ToLookThread) => {
  waiting.push(message);
  if (busy < atOnce) void work();
});
