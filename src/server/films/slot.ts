import {
  soundEncoder,
  pictureEncoder,
  muxerOf,
  type PictureShape,
  type SoundShape,
} from '@/media/film/core/film-wish';
import type { ProbedPicture } from '@/media/film/core/probed';
import { keyDistance } from '@/media/film/node/key-pictures';
import { UserError } from '@/platform/user-error';
import { secondsOf, soundAt } from './film-view';
import type { OpenFilm } from './open-films';

/** What a film of a game is coded as, which a new one has to be, too. */
export interface FilmSlot {
  readonly picture: (ProbedPicture & PictureShape & { readonly bitRate: number }) | undefined;
  readonly sounds: readonly SoundShape[];
  readonly seconds: number;
}

/** Bits a second of sounds that lie with pictures, whose share of the bytes is not known. */
const USUAL_SOUND_RATE = 128_000;

const known = new WeakMap<OpenFilm, Promise<FilmSlot>>();

/** What a film is coded as; looked at once, while it is open. */
export function slotOf(film: OpenFilm): Promise<FilmSlot> {
  const asked = known.get(film) ?? slotNow(film);
  known.set(film, asked);
  asked.catch(() => known.delete(film));
  return asked;
}

async function slotNow(film: OpenFilm): Promise<FilmSlot> {
  const { source, probed } = film;
  const seconds = secondsOf(film);
  const bitsOf = (input: number, length: number): number =>
    (8 * source.inputs[input]!.ref.length) / Math.max(0.01, length);
  const count = source.languages?.length ?? probed[0]!.sounds.length;
  const sounds = Array.from({ length: count }, (_, i): SoundShape => {
    const { input, stream } = soundAt(film, i)!;
    const { codec, rate, channels } = probed[input]!.sounds[stream]!;
    const isAlone = source.languages !== undefined;
    return {
      codec,
      rate,
      channels,
      bitRate: isAlone ? bitsOf(input, probed[input]!.seconds ?? seconds) : USUAL_SOUND_RATE,
    };
  });
  const { picture } = probed[0]!;
  const distance = picture && (await keyDistance(film.urls[0]!, source.inputs[0]!.demuxer));
  const others = source.languages === undefined ? sounds.reduce((sum, { bitRate }) => sum + bitRate, 0) : 0;
  return {
    picture: picture && {
      ...picture,
      keySeconds: distance === undefined ? undefined : distance / picture.rate,
      bitRate: Math.max(10_000, Math.round(bitsOf(0, seconds) - others)),
    },
    ...{ sounds, seconds },
  };
}

/** Throws UserError where a film of this sort cannot be made here. */
export function refuseUnmade(film: OpenFilm, { picture, sounds }: FilmSlot): void {
  const { title, inputs } = film.source;
  if (!picture) throw new UserError(422, `${title} has no pictures; its sounds are replaced one by one.`);
  if (!pictureEncoder(picture.codec) || !muxerOf(inputs[0]!.demuxer, picture.codec))
    throw new UserError(
      422,
      `${title} is coded as ${picture.codec}, which the installed ffmpeg does not write. Give a file that is coded so already, entry by entry.`,
    );
  const unknown = sounds.find(({ codec }) => !soundEncoder(codec));
  if (unknown)
    throw new UserError(
      422,
      `A sound of ${title} is coded as ${unknown.codec}, which is not written here. Keep it, and replace it by a file that is coded so already.`,
    );
}
