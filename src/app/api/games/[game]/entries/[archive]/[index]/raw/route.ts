import { Readable } from 'node:stream';
import { typeOfHead } from '@/core/archive';
import { streamOf } from '@/server/extraction';
import { openedEntry } from '@/server/opened';
import { firstBytes } from '@/server/heads';
import { EntryParams, route } from '@/app/api/route-kit';

const AUDIO: Record<string, string> = {
  wav: 'audio/wav',
  ogg: 'audio/ogg',
  mp3: 'audio/mpeg',
  flac: 'audio/flac',
};

/** The plain bytes as a download, or as sound for the player; never as anything that a browser would run. */
export const GET = route(EntryParams, async ({ params }) => {
  const { archive, entry } = await openedEntry(params.game, params.archive, params.index);
  const ref = archive.plain(entry);
  const type = AUDIO[typeOfHead(firstBytes(ref, 64))?.ending ?? ''];
  const name = encodeURIComponent(entry.path.split('/').pop()!);
  return new Response(Readable.toWeb(streamOf(ref)) as ReadableStream, {
    headers: {
      'content-type': type ?? 'application/octet-stream',
      'content-length': String(ref.length),
      'content-disposition': `${type ? 'inline' : 'attachment'}; filename*=UTF-8''${name}`,
    },
  });
});
