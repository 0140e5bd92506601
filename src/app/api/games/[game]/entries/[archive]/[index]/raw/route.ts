import { create } from 'content-disposition';
import parseRange from 'range-parser';
import { Readable } from 'node:stream';
import { shownAs, START_BYTES, typeOfHead } from '@/core/kinds';
import { refOfBytes, sliceOf } from '@/core/bytes';
import { streamOf } from '@/server/recipes/extraction';
import { isAdpcmWave } from '@/media/sound/core/audio';
import { describedKind } from '@/platform/node/media-scripts';
import { firstBytes } from '@/server/looking/heads';
import { keepOpened } from '@/server/opening/held';
import { unwrappedSound } from '@/server/looking/sounds';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** The plain bytes as a download, or for the player, which gets what a script unwraps; a part of them where a range is asked for (RFC 9110, section 14). */
export const GET = route(EntryParams, async ({ params, request }) => {
  const isSaved = new URL(request.url).searchParams.has('save');
  const opened = await openedBy(params);
  const { archive, entry } = opened;
  const plain = archive.plain(entry);
  const head = firstBytes(plain, START_BYTES);
  const known = shownAs(typeOfHead(head));
  // Bare samples may happen to begin like anything; what the archive says of them counts.
  const isPlayed = known !== undefined && !isAdpcmWave(head) && describedKind(entry) === undefined;
  const inner = isPlayed || isSaved ? undefined : unwrappedSound(opened);
  const ref = inner ? refOfBytes(inner) : plain;
  const type = inner ? shownAs(typeOfHead(inner)) : known;
  const name = entry.path.split('/').pop()!;
  const headers = {
    'accept-ranges': 'bytes',
    'content-type': type ?? 'application/octet-stream',
    'content-disposition': create(name, { type: type && !isSaved ? 'inline' : 'attachment' }),
  };
  const range = rangeOf(request.headers.get('range'), ref.length);
  if (range === 'outside')
    return new Response(null, { status: 416, headers: { 'content-range': `bytes */${ref.length}` } });
  const [from, to] = range ?? [0, ref.length];
  const part = sliceOf(ref, from, to - from);
  // The archive stays open until all of it is sent, or whoever asked is gone.
  const stream = streamOf(part).once('close', keepOpened());
  return new Response(Readable.toWeb(stream) as ReadableStream, {
    status: range ? 206 : 200,
    headers: {
      ...headers,
      'content-length': String(part.length),
      ...(range && { 'content-range': `bytes ${from}-${to - 1}/${ref.length}` }),
    },
  });
});

/** One range of bytes, to before the end; what is asked for in another way is sent whole. */
function rangeOf(asked: string | null, length: number): readonly [number, number] | 'outside' | undefined {
  if (asked === null) return undefined;
  const found = parseRange(length, asked);
  if (found === -1) return 'outside';
  if (found === -2 || found.type !== 'bytes' || found.length !== 1) return undefined;
  const { start, end } = found[0]!;
  return [start, end + 1];
}
