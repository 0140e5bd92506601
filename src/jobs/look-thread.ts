import { parentPort } from 'node:worker_threads';
import { FormatError } from '@/core/bytes';
import type { FromLookThread, ToLookThread } from '@/server/look-threads';
import { readHead } from '@/server/heads';
import { openedEntry } from '@/server/opened';
import { toPng } from '@/platform/node/pictures';
import { entryPixels } from '@/server/preview';
import { scriptShelf } from '@/server/scripts';
import { UserError } from '@/server/user-error';

/** Makes thumbnails and reads heads beside the server, which answers others meanwhile. One after the other, as they come. */
async function answer({ id, task }: ToLookThread): Promise<FromLookThread> {
  const { gameId, archiveId, index } = task;
  try {
    if (task.sort === 'thumbnail') {
      const png = await toPng(await entryPixels(gameId, archiveId, index), 'colour', task.most);
      return { id, png: new Uint8Array(png) };
    }
    const { archive, entry } = await openedEntry(gameId, archiveId, index);
    return { id, head: await readHead(gameId, archive, entry) };
  } catch (error) {
    if (error instanceof FormatError) return { id, format: { code: error.code, facts: error.facts } };
    if (error instanceof UserError) return { id, user: { status: error.status, message: error.message } };
    return { id, failure: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}

// What every look needs, read while nobody waits yet.
scriptShelf();

let last: Promise<void> = Promise.resolve();
parentPort?.on('message', (message: ToLookThread) => {
  last = last.then(async () => parentPort!.postMessage(await answer(message)));
});
