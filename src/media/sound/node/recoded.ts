import type { Archive, Entry } from '@/core/archive';
import type { Finding, Mend } from '@/core/fit';
import { codecsOf, otherCodecs } from '@/core/mod';
import { foundInSound } from '../core/wording';

/** The codec that mends ask for in the place of an entry's own; of several the last. Undefined where that is the one it has. */
export function codecAsked(entry: Entry, mends: readonly Mend[]): string | undefined {
  const asked = mends.findLast((mend) => mend.startsWith('as '))?.slice(3);
  // Files of the folder have no row that could say anything.
  const isOfArchive = (entry as Partial<Entry>).group !== undefined;
  const codec =
    asked === undefined || !isOfArchive ? undefined : codecsOf(entry).find(({ word }) => word === asked);
  return codec && !codec.isOwn ? codec.word : undefined;
}

/** What there is to say of the codecs that an entry may be kept in: the one that was taken, with the path it then has, and the others. */
export function codecsFound(
  archive: Archive,
  entry: Entry,
  taken: { readonly word: string; readonly path: string } | undefined,
): Finding[] {
  const own = codecsOf(entry).find(({ isOwn }) => isOwn)?.word;
  const offer = (codec: string, isOwn: boolean): Finding => ({
    ...foundInSound('fits', 'other-codec', { codec, isOwn }),
    mend: `as ${codec}`,
  });
  return [
    ...(taken
      ? [foundInSound('look', 'taken-codec', { codec: taken.word, path: taken.path, was: entry.path })]
      : []),
    ...otherCodecs(archive, entry)
      .filter((word) => word !== taken?.word)
      .map((word) => offer(word, false)),
    ...(taken && own !== undefined ? [offer(own, true)] : []),
  ];
}
