import type { ByteSource } from '@/core/bytes';
import { typeOfHead } from '@/core/kinds';
import type { Head } from '@/media/head';
import { isIvf, readIvfHead, readTracks, type ReadStretch } from '../core';

const NO_TRACKS = { width: 0, height: 0, sounds: 0 } as const;

/** What a container of sound or film in an open format tells; undefined where it is none. `source` is all of it, where that can be had. */
export async function trackHead(
  source: ByteSource | undefined,
  first: Uint8Array,
): Promise<Head | undefined> {
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
