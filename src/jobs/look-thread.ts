import { parentPort } from 'node:worker_threads';
import { FormatError } from '@/core/bytes';
import type { EntryStore, StoredEntry } from '@/core/archive';
import type { Pixels } from '@/core/media/texture';
import type { FromLookThread, LookTask, ToLookThread } from '@/server/look-threads';
import { readHead } from '@/server/heads';
import { openedEntry } from '@/server/opened';
import { toPng } from '@/platform/node/pictures';
import { MOST_PICTURE_BYTES, smallPixels, wholeEntry } from '@/server/preview';
import { texelsOf, type TexelFacts } from '@/server/texels';
import { scriptShelf } from '@/server/scripts';
import { UserError } from '@/server/user-error';

/** Makes thumbnails and reads heads beside the server, which answers others meanwhile. */
async function answer({ id, task }: ToLookThread): Promise<FromLookThread> {
  const { gameId, archiveId, index } = task;
  try {
    if (task.sort === 'thumbnail') {
      const png = await toPng(await smallPixels(gameId, archiveId, index, task.most), 'colour', task.most);
      return { id, png: new Uint8Array(png) };
    }
    const { archive, entry } = await openedEntry(gameId, archiveId, index);
    if (task.sort === 'texels') return { id, texels: await largeTexels(task, archive, entry) };
    return { id, head: await readHead(gameId, archive, entry, task.most) };
  } catch (error) {
    if (error instanceof FormatError) return { id, format: { code: error.code, facts: error.facts } };
    if (error instanceof UserError) return { id, user: { status: error.status, message: error.message } };
    return { id, failure: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
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
const AT_ONCE = 3;
const waiting: ToLookThread[] = [];
let busy = 0;

async function work(): Promise<void> {
  busy++;
  for (let message = waiting.shift(); message; message = waiting.shift())
    parentPort!.postMessage(await answer(message));
  busy--;
}
parentPort?.on('message', (message: ToLookThread) => {
  waiting.push(message);
  if (busy < AT_ONCE) void work();
});
