import fs from 'node:fs';
import path from 'node:path';
import type { Finding } from '@/core/fit';
import { isPictures, isSound, toSrt } from '@/media/film/core';
import {
  lengthArguments,
  muxerOf,
  passesOf,
  pictureArguments,
  soundArguments,
  type FilmWish,
  type SoundShape,
} from '@/media/film/core/film-wish';
import { foundInFilm } from '@/media/film/core/wording';
import { encode, type EncodeHooks } from '@/media/film/node/encode';
import { probe } from '@/media/film/node/probe';
import { INPUT_SAFELY } from '@/media/film/node/run-ffmpeg';
import { servedFile } from '@/platform/node/served-file';
import { UserError } from '@/platform/user-error';
import type { JobContext } from '../running/job-context';
import { findingsOfFilm } from './film-findings';
import { gainsOf, loudnessOfMade } from './loudness-findings';
import type { GivenFilm } from './given-film';
import type { FilmMark, FilmTexts } from './marks';
import type { OpenFilm } from './open-films';
import { showReady } from './ready-picture';
import type { FilmSlot } from './slot';

/** A film that is to be made: what it replaces, what it is made of, and how. */
export interface FilmWork {
  readonly film: OpenFilm;
  /** Its marks as the mod has them by now. */
  readonly marks: readonly FilmMark[];
  readonly texts: readonly FilmTexts[];
  readonly slot: FilmSlot;
  readonly given: GivenFilm;
  readonly wish: FilmWish;
  readonly folder: string;
  readonly job: JobContext;
}

/** What was made in the place of one entry. */
export interface MadeStream {
  readonly index: number;
  readonly file: string;
  readonly findings: readonly Finding[];
}

/** All streams that were made of it. */
export interface Coded {
  readonly streams: readonly MadeStream[];
  readonly pictures: number;
  readonly seconds: number;
}

/** Codes what was given into the streams that a film has, decodes the pictures again to their end, and says how all of it suits. */
export async function codeFilm(work: FilmWork): Promise<Coded> {
  const { film, slot, given, wish, folder, job } = work;
  const { source } = film;
  const length = given.probed.seconds ?? 0;
  if (length <= 0) throw new UserError(422, `${wish.name} does not say how long it is.`);
  refuseMissing(work);
  requireRoom(
    folder,
    (2 * length * (wish.bitRate + slot.sounds.reduce((sum, { bitRate }) => sum + bitRate, 0))) / 8,
  );
  const count = passesOf(slot.picture!.codec, wish);
  const all = Math.max(1, Math.round(length * wish.rate));
  let behind = 0;
  let ready = 0;
  const hooks = (item: string): EncodeHooks => ({
    check: () => job.check(),
    isHeld: () => job.isHeld(),
    progress(pictures) {
      ready = pictures;
      job.progress(Math.min(behind + pictures, all * count), all * count, 'items', item);
    },
  });
  const input = [...INPUT_SAFELY, '-f', given.demuxer, '-i', given.url];
  const picture = pictureArguments(wish, slot.picture!, burntTexts(work));
  const gains = await gainsOf(work);
  const { demuxer } = source.inputs[0]!;
  const file = path.join(folder, 'pictures');
  const passes = (number: number): string[] =>
    count === 2 ? ['-pass', String(number), '-passlogfile', path.join(folder, 'passes')] : [];
  if (count === 2) {
    const nowhere = ['-an', '-f', 'null', '-y', '/dev/null'];
    await encode([...input, '-map', '0:v:0', ...picture, ...passes(1), ...nowhere], hooks('first pass'));
    behind = all;
  }
  const muxer = muxerOf(demuxer, slot.picture!.codec)!;
  const written = muxer === 'mp4' ? `${file}.parts` : file;
  const isOne = source.languages === undefined;
  const sounds = isOne ? togetherWith(work, gains) : { inputs: [], maps: [], codecs: [] };
  ready = 0;
  const shown = showReady(written, demuxer, () => ready / wish.rate, job);
  await encode(
    [
      ...[...input, ...sounds.inputs, '-map', '0:v:0', ...sounds.maps, ...picture, ...passes(2)],
      ...(sounds.codecs.length > 0 ? [...sounds.codecs, ...lengthArguments(length)] : ['-an']),
      ...['-sn', '-dn', '-map_metadata', '-1', '-bitexact'],
      ...['-f', muxer, ...(written === file ? [] : IN_PARTS), '-y', written],
    ],
    hooks(count === 2 ? 'second pass' : 'pictures'),
  ).finally(shown);
  if (written !== file) await putTogether(written, file, { demuxer, muxer }, job);
  const pictures = await decodedPictures(file, demuxer, job);
  const seconds = pictures / wish.rate;
  const streams: MadeStream[] = [
    {
      index: isOne ? source.index! : pictureEntry(film),
      file,
      findings: [
        ...(await findingsOfFilm(work, file, pictures)),
        ...(isOne ? await loudnessOfMade(work, file, demuxer, ownSounds(work)) : []),
      ],
    },
  ];
  if (!isOne) streams.push(...(await soundStreams(work, seconds, gains)));
  return { streams, pictures, seconds };
}

/** Parts that each have an index of their own: one for all would stand at the end, and nothing could be seen before. */
export const IN_PARTS = ['-movflags', '+delay_moov+default_base_moof', '-frag_duration', '2000000'];

/** A film that was written in parts becomes one with a single index, as what reads the slot expects; no picture is coded anew. */
async function putTogether(
  parts: string,
  file: string,
  { demuxer, muxer }: { readonly demuxer: string; readonly muxer: string },
  job: JobContext,
): Promise<void> {
  await servedFile(parts, (url) =>
    encode(
      [
        ...[...INPUT_SAFELY, '-f', demuxer, '-i', url, '-map', '0', '-c', 'copy'],
        // What a coder of sound needs before the beginning stays before it, or the pictures would come later.
        ...['-copyts', '-avoid_negative_ts', 'disabled'],
        ...['-map_metadata', '-1', '-bitexact', '-f', muxer, '-y', file],
      ],
      { check: () => job.check(), isHeld: () => job.isHeld(), progress: () => undefined },
    ),
  );
  fs.rmSync(parts);
}

/** Texts that are written into the pictures, as a file. */
function burntTexts({ wish, texts, film, folder }: FilmWork): string | undefined {
  if (wish.burn === undefined) return undefined;
  const own = texts.find(({ language }) => language === wish.burn);
  if (!own) throw new UserError(422, `${film.source.title} has no texts in that language.`);
  const file = path.join(folder, 'texts.srt');
  fs.writeFileSync(file, toSrt(own.lines));
  return file;
}

/** Said before anything is coded: a sound that what was given does not have. */
function refuseMissing({ given, wish, film }: FilmWork): void {
  for (const [i, own] of wish.sounds.entries())
    if (typeof own === 'object' && !given.probed.sounds[own.from])
      throw new UserError(
        422,
        `${wish.name} has no sound ${own.from + 1} for ${film.source.languages?.[i] || `sound ${i + 1}`}.`,
      );
}

/** Said before the work begins, since a full disk is noticed late. */
function requireRoom(folder: string, wanted: number): void {
  const { bavail, bsize } = fs.statfsSync(folder);
  if (bavail * bsize < wanted)
    throw new UserError(
      507,
      `The disk has ${bavail * bsize} bytes left, and the film needs about ${Math.ceil(wanted)}. Nothing was made. Make room, or take fewer bits a second.`,
    );
}

const pictureEntry = ({ source }: OpenFilm): number => source.tracks.find(isPictures)!.entry.index;

/** The sounds that come of what was given, of a film that is one file. */
const ownSounds = ({ wish }: FilmWork): { stream: number; sound: number }[] =>
  wish.sounds.flatMap((own, i) => (typeof own === 'string' ? [] : [{ stream: i, sound: i }]));

/** Sounds of a film that is one file: each is taken from what is given, kept, or silent. */
function togetherWith(
  { film, slot, wish }: FilmWork,
  gains: readonly number[],
): {
  inputs: string[];
  maps: string[];
  codecs: string[];
} {
  const inputs: string[] = [];
  const maps: string[] = [];
  let inputCount = 1;
  for (const [i, shape] of slot.sounds.entries()) {
    const own = wish.sounds[i] ?? 'keep';
    if (own === 'keep') {
      inputs.push(...INPUT_SAFELY, '-f', film.source.inputs[0]!.demuxer, '-i', film.urls[0]!);
      maps.push('-map', `${inputCount++}:a:${i}`);
    } else if (own === 'silence') {
      inputs.push(...silence(shape));
      maps.push('-map', `${inputCount++}:a:0`);
    } else maps.push('-map', `0:a:${own.from}`);
  }
  return { inputs, maps, codecs: slot.sounds.flatMap((shape, i) => soundArguments(shape, i, gains[i])) };
}

const silence = ({ rate }: SoundShape): string[] => ['-f', 'lavfi', '-i', `anullsrc=r=${rate}`];

async function soundStreams(
  work: FilmWork,
  seconds: number,
  gains: readonly number[],
): Promise<MadeStream[]> {
  const { film, slot, given, wish, folder, job } = work;
  const tracks = film.source.tracks.filter((track) => isSound(track) && track.entry.storedSize > 0);
  const made: MadeStream[] = [];
  for (const [i, { entry }] of tracks.entries()) {
    const own = wish.sounds[i] ?? 'keep';
    if (own === 'keep') continue;
    const shape = slot.sounds[i]!;
    const input =
      own === 'silence'
        ? [...silence(shape), '-map', '0:a:0']
        : [...INPUT_SAFELY, '-f', given.demuxer, '-i', given.url, '-map', `0:a:${own.from}`];
    const { demuxer } = film.source.inputs[i + 1]!;
    const file = path.join(folder, `sound-${i}`);
    await encode(
      [
        ...[
          ...input,
          '-vn',
          ...soundArguments(shape, 0, gains[i]),
          ...lengthArguments(seconds),
          '-map_metadata',
          '-1',
        ],
        ...['-bitexact', '-f', muxerOf(demuxer, undefined)!, '-y', file],
      ],
      { check: () => job.check(), isHeld: () => job.isHeld(), progress: () => undefined },
    );
    const { codec, rate, channels } = shape;
    const finding =
      own === 'silence'
        ? foundInFilm('fits', 'silence', { seconds })
        : foundInFilm('fits', 'sound-made', { codec, rate, channels, seconds });
    const heard =
      own === 'silence' ? [] : await loudnessOfMade(work, file, demuxer, [{ stream: 0, sound: i }]);
    made.push({ index: entry.index, file, findings: [...heard, finding] });
  }
  return made;
}

/** Decodes what was made to its end; how many pictures came of it. */
function decodedPictures(file: string, demuxer: string, job: JobContext): Promise<number> {
  return servedFile(file, async (url, bytes) => {
    await probe(url, demuxer, bytes);
    let count = 0;
    await encode(
      [
        ...[...INPUT_SAFELY, '-xerror', '-f', demuxer, '-i', url, '-map', '0:v:0'],
        ...['-fps_mode', 'passthrough', '-f', 'null', '-'],
      ],
      { check: () => job.check(), isHeld: () => job.isHeld(), progress: (pictures) => (count = pictures) },
    );
    return count;
  });
}
