import fs from 'node:fs';
import path from 'node:path';
import { INPUT_SAFELY, outputOf } from '@/media/film/node/run-ffmpeg';
import { UserError } from '@/platform/user-error';
import { playingFor, soundAt } from './film-view';
import type { OpenFilm } from './open-films';

const WHOLE_MS = 60_000;

/** Arguments that have ffmpeg read the pictures of a film and one of its sounds: its inputs, and what is taken of them. */
export function inputsFor(
  film: OpenFilm,
  sound: number,
  seek: readonly string[] = [],
): { inputs: string[]; maps: string[] } {
  const { source, urls, probed } = film;
  const at = soundAt(film, sound);
  const used = [...new Set([...(source.hasPicture ? [0] : []), ...(at ? [at.input] : [])])];
  return {
    inputs: used.flatMap((input) => [
      ...INPUT_SAFELY,
      ...seek,
      '-f',
      source.inputs[input]!.demuxer,
      '-i',
      urls[input]!,
    ]),
    maps: [
      ...(source.hasPicture && probed[0]!.picture ? ['-map', '0:v:0'] : []),
      ...(at ? ['-map', `${used.indexOf(at.input)}:a:${at.stream}`] : []),
      ...['-sn', '-dn', '-map_metadata', '-1'],
    ],
  };
}

const making = new WeakMap<OpenFilm, Map<number, Promise<string>>>();

/** The film with one sound in a container that browsers play, nothing coded anew; made once, as a file that lies with the open film. */
export async function wholeFilm(film: OpenFilm, sound: number): Promise<{ file: string; type: string }> {
  const playing = playingFor(film, sound);
  if (playing.how !== 'whole') throw new UserError(409, `${film.source.title} is played ${playing.how}.`);
  film.use();
  const { container } = playing;
  let own = making.get(film);
  if (!own) making.set(film, (own = new Map()));
  let made = own.get(sound);
  if (!made) {
    made = (async () => {
      const file = path.join(film.folder, `whole-${sound}.${container}`);
      const { inputs, maps } = inputsFor(film, sound);
      const head = container === 'mp4' ? ['-movflags', '+faststart'] : ['-cues_to_front', '1'];
      await outputOf(
        'ffmpeg',
        [...inputs, ...maps, '-c', 'copy', ...head, '-y', '-f', container, file],
        WHOLE_MS,
      );
      return file;
    })();
    own.set(sound, made);
    made.catch(() => own.delete(sound));
  }
  const file = await made;
  if (!fs.existsSync(file)) throw new UserError(410, 'The film was closed meanwhile. Open it again.');
  return { file, type: `video/${container}` };
}
