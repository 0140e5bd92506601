import fs from 'node:fs';
import path from 'node:path';
import { muxerOf, pictureArguments, type FilmWish } from '@/media/film/core/film-wish';
import { INPUT_SAFELY, outputOf } from '@/media/film/node/run-ffmpeg';
import { makeTemporary } from '@/platform/node/temporary';
import { UserError } from '@/platform/user-error';
import { givenFilm } from './given-film';
import type { OpenFilm } from './open-films';
import { refuseUnmade, slotOf } from './slot';

/** What making a film will take, told from a few seconds of it. */
export interface FilmEstimate {
  readonly bytes: number;
  /** By how much the samples differ from each other, as a share of `bytes`. */
  readonly error: number;
  /** Seconds of work. */
  readonly takes: number;
  readonly seconds: number;
  /** A picture of one of the samples as it will be, as an address of its own. */
  readonly picture: string;
}

const SAMPLES = 3;
const SAMPLE_SECONDS = 1.5;
const SAMPLE_MS = 60_000;

/** Codes a few stretches of what was given as they will be, and tells from them how large the whole will be and how long it takes. */
export async function estimateFilm(film: OpenFilm, wish: FilmWish): Promise<FilmEstimate> {
  const slot = await slotOf(film);
  refuseUnmade(film, slot);
  const given = await givenFilm(wish.blob, wish.name);
  const folder = makeTemporary();
  try {
    const seconds = given.probed.seconds ?? 0;
    if (!given.probed.picture || seconds <= 0)
      throw new UserError(422, `${wish.name} has no pictures, or does not say how long it is.`);
    const isShort = seconds <= 2 * SAMPLES * SAMPLE_SECONDS;
    const places = isShort ? [0] : Array.from({ length: SAMPLES }, (_, i) => (seconds * (i + 0.5)) / SAMPLES);
    const length = isShort ? seconds : SAMPLE_SECONDS;
    const { codec } = slot.picture!;
    const rates: number[] = [];
    const took: number[] = [];
    let picture = '';
    for (const [i, at] of places.entries()) {
      const file = path.join(folder, `sample-${i}`);
      const began = performance.now();
      await outputOf(
        'ffmpeg',
        [
          ...[
            ...INPUT_SAFELY,
            '-ss',
            at.toFixed(3),
            '-t',
            length.toFixed(3),
            '-f',
            given.demuxer,
            '-i',
            given.url,
            '-map',
            '0:v:0',
          ],
          ...[
            ...pictureArguments(wish, slot.picture!),
            '-an',
            '-f',
            muxerOf(film.source.inputs[0]!.demuxer, codec)!,
            '-y',
            file,
          ],
        ],
        SAMPLE_MS,
      );
      took.push((performance.now() - began) / 1000);
      rates.push(fs.statSync(file).size / length);
      if (i === Math.floor(places.length / 2)) picture = await firstPicture(file);
    }
    const mean = rates.reduce((sum, rate) => sum + rate, 0) / rates.length;
    const spread = Math.sqrt(
      rates.reduce((sum, rate) => sum + (rate - mean) ** 2, 0) / Math.max(1, rates.length - 1),
    );
    const each = took.reduce((sum, one) => sum + one, 0) / (took.length * length);
    return {
      bytes: Math.round(mean * seconds),
      error: isShort ? 0.02 : spread / Math.max(1, mean) / Math.sqrt(rates.length),
      takes: each * seconds * wish.passes,
      ...{ seconds, picture },
    };
  } finally {
    given.close();
    fs.rmSync(folder, { recursive: true, force: true });
  }
}

async function firstPicture(file: string): Promise<string> {
  const png = await outputOf(
    'ffmpeg',
    ['-i', file, '-frames:v', '1', '-vf', 'scale=320:-2', '-c:v', 'png', '-f', 'image2pipe', 'pipe:1'],
    SAMPLE_MS,
  );
  return `data:image/png;base64,${png.toString('base64')}`;
}
