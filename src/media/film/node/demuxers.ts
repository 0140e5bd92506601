import { typeOfHead } from '@/core/kinds';

/** By what a file is known to be: how ffmpeg calls what reads it. None of these opens other files. */
const DEMUXERS: Readonly<Record<string, string>> = {
  ...{ mp4: 'mov', m4v: 'mov', mov: 'mov', m4a: 'mov', webm: 'matroska', mkv: 'matroska', avi: 'avi' },
  ...{ ivf: 'ivf', flv: 'flv', wmv: 'asf', ogv: 'ogg', ogg: 'ogg', opus: 'ogg', oga: 'ogg', ts: 'mpegts' },
  ...{ wav: 'wav', mp3: 'mp3', flac: 'flac', aac: 'aac' },
};

/** How ffmpeg reads what begins like this; undefined where it is no film or sound that is known. It is always told, so that a playlist under a film's name is none. */
export function demuxerOf(first: Uint8Array): string | undefined {
  const ending = typeOfHead(first)?.ending;
  // Packs of a program stream, or pictures by themselves (ISO 11172-1, ISO 11172-2).
  if (ending === 'mpg') return first[3] === 0xba ? 'mpeg' : 'mpegvideo';
  return ending === undefined ? undefined : DEMUXERS[ending];
}
