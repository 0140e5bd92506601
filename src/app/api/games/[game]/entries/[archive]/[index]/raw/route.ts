import { create } from 'content-disposition';
import { shownAs, START_BYTES, typeOfHead } from '@/core/kinds';
import { refOfBytes } from '@/core/bytes';
import { rangedAnswer } from '@/app/api/ranged-answer';
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
    'content-type': type ?? 'application/octet-stream',
    'content-disposition': create(name, { type: type && !isSaved ? 'inline' : 'attachment' }),
  };
  // The archive stays open until all of it is sent, or whoever asked is gone.
  return rangedAnswer(request, ref, headers, keepOpened());
});
