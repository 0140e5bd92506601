import { ALL_FORMATS, CustomSource, Input, Logging, LogLevel } from 'mediabunny';
import type { FilmHead, SoundHead } from '@/media/head';
import { flacComments } from './flac-comments';
import { loopOfTags } from './loop-tags';

/** Reads a stretch of plain bytes; shorter where they end. */
export type ReadStretch = (offset: number, length: number) => Uint8Array;

// What it cannot make out of a damaged file is of no interest to whoever reads the server's log.
Logging.level = LogLevel.Silent;

/** So many packets are looked at to tell the rate of pictures. */
const PACKETS = 60;

/**
 * What a file of sound or film tells, of the containers that browsers play (MP4, WebM, Ogg, WAVE, MP3, FLAC and others),
 * or undefined where it is none of them. Only the stretches that the container's index needs are read.
 */
export async function readTracks(size: number, read: ReadStretch): Promise<SoundHead | FilmHead | undefined> {
  const flac = flacHead(read(0, Math.min(size, FLAC_HEAD_BYTES)));
  if (flac) return { ...flac, loop: loopOfTags(flacComments(size, read), flac.rate ?? 0, flac.seconds) };
  const input = new Input({
    formats: ALL_FORMATS,
    source: new CustomSource({
      getSize: () => size,
      read: (start, end) => read(start, end - start),
      prefetchProfile: 'none',
    }),
  });
  try {
    const tracks = await input.getTracks();
    const [film, sound] = [
      tracks.find((track) => track.isVideoTrack()),
      tracks.find((track) => track.isAudioTrack()),
    ];
    const seconds = await input.computeDuration().catch(() => undefined);
    if (film) {
      const stats = await film.computePacketStats(PACKETS).catch(() => undefined);
      return {
        sort: 'film',
        codec: spelled(film.codec),
        width: film.displayWidth,
        height: film.displayHeight,
        seconds,
        pictureRate: stats?.averagePacketRate,
        sounds: tracks.filter((track) => track.isAudioTrack()).length,
      };
    }
    if (!sound) return undefined;
    const tags = await input.getMetadataTags().catch(() => undefined);
    return {
      sort: 'sound',
      codec: spelled(sound.codec),
      seconds,
      rate: sound.sampleRate,
      channels: sound.numberOfChannels,
      loop: loopOfTags(tags?.raw, sound.sampleRate, seconds),
    };
  } catch {
    // A container it does not know, or one that is damaged: what the list shows then is that nothing is known.
    return undefined;
  } finally {
    input.dispose();
  }
}

const FLAC_HEAD_BYTES = 42;

/**
 * What the first block of a FLAC says (RFC 9639, STREAMINFO). It is read here, since the package looks for frames in damaged ones without
 * coming to an end.
 */
function flacHead(head: Uint8Array): SoundHead | undefined {
  if (head.length < FLAC_HEAD_BYTES || String.fromCharCode(...head.subarray(0, 4)) !== 'fLaC')
    return undefined;
  const view = new DataView(head.buffer, head.byteOffset, head.length);
  const rate = view.getUint32(18) >>> 12;
  const frames = (head[21]! & 15) * 2 ** 32 + view.getUint32(22);
  const channels = ((head[20]! >> 1) & 7) + 1;
  return {
    ...{ sort: 'sound', codec: 'FLAC', rate, channels },
    seconds: frames > 0 && rate > 0 ? frames / rate : undefined,
  };
}

const spelled = (codec: string | null): string => (codec ?? 'unknown').toUpperCase();
