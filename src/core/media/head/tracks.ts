import { ALL_FORMATS, CustomSource, Input } from 'mediabunny';
import type { FilmHead, SoundHead } from './head';

/** Reads a stretch of plain bytes; shorter where they end. */
export type ReadStretch = (offset: number, length: number) => Uint8Array;

/** So many packets are looked at to tell the rate of pictures. */
const PACKETS = 60;

/**
 * What a file of sound or film tells, of the containers that browsers play (MP4, WebM, Ogg, WAVE, MP3, FLAC and others),
 * or undefined where it is none of them. Only the stretches that the container's index needs are read.
 */
export async function readTracks(size: number, read: ReadStretch): Promise<SoundHead | FilmHead | undefined> {
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
    return {
      sort: 'sound',
      codec: spelled(sound.codec),
      seconds,
      rate: sound.sampleRate,
      channels: sound.numberOfChannels,
    };
  } catch {
    // A container it does not know, or one that is damaged: what the list shows then is that nothing is known.
    return undefined;
  } finally {
    input.dispose();
  }
}

const spelled = (codec: string | null): string => (codec ?? 'unknown').toUpperCase();
