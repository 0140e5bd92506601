import fs from 'node:fs';
import path from 'node:path';
import { threeLetters } from '@/core/catalogue';
import { FormatError, refOfSpan, windowOf, type BytesRef } from '@/core/bytes';
import { serveBytes } from '@/platform/node/byte-server';
import type { ConvertContext, Converter, ToConvert } from '@/platform/node/convert/converter';
import { openFileSource } from '@/platform/node/file-source';
import { layDown } from '@/platform/node/lay-down';
import { makeTemporary } from '@/platform/node/temporary';
import { demuxerOf } from './demuxers';
import { encode } from './encode';
import { WITHOUT_TIMES } from '../core/playing';
import type { Probed } from '../core/probed';
import { probe } from './probe';
import { INPUT_SAFELY } from './run-ffmpeg';

/** What films are taken out as. */
interface Target {
  readonly ending: string;
  readonly muxer: string;
  /** Codecs that it holds as they are; undefined for all. */
  readonly keeps:
    { readonly pictures: ReadonlySet<string>; readonly sounds: ReadonlySet<string> } | undefined;
  readonly pictures: readonly string[];
  readonly sounds: readonly string[];
}

const MP4: Target = {
  ...{ ending: '.mp4', muxer: 'mp4' },
  keeps: { pictures: new Set(['h264']), sounds: new Set(['aac']) },
  pictures: [
    '-c:v',
    'libx264',
    '-preset',
    'medium',
    '-crf',
    '18',
    '-pix_fmt',
    'yuv420p',
    '-vf',
    'pad=ceil(iw/2)*2:ceil(ih/2)*2',
  ],
  sounds: ['-c:a', 'aac', '-b:a', '160k'],
};
const WEBM: Target = {
  ...{ ending: '.webm', muxer: 'webm' },
  keeps: { pictures: new Set(['vp8', 'vp9', 'av1']), sounds: new Set(['opus', 'vorbis']) },
  pictures: [
    '-c:v',
    'libvpx-vp9',
    '-deadline',
    'good',
    '-cpu-used',
    '4',
    '-row-mt',
    '1',
    '-crf',
    '24',
    '-b:v',
    '0',
    '-pix_fmt',
    'yuv420p',
  ],
  sounds: ['-c:a', 'libopus', '-b:a', '128k'],
};
const MKV: Target = { ...MP4, ending: '.mkv', muxer: 'matroska', keeps: undefined };

interface Input {
  readonly ref: BytesRef;
  readonly demuxer: string;
  /** Code of ISO 639, where it has one. */
  readonly language: string;
}

function inputOf(ref: BytesRef, name: string, language: string, said?: string): Input {
  const demuxer = said ?? demuxerOf(windowOf(ref, 0, 1024));
  if (demuxer === undefined)
    throw new FormatError('codec-failed', {
      ...{
        file: name,
        actual: 'it begins like no film or sound that is known here',
        remedy: 'Take it as it is stored',
      },
    });
  return { ref, demuxer, language };
}

/** A film with the sounds that lie beside its pictures, where its archive says which. */
function inputsOf({ plain, path: name, described }: ToConvert): Input[] {
  const film = described?.()?.film;
  return [
    inputOf(plain, name, '', film?.demuxer),
    ...(film?.sounds ?? []).map(({ ref, path: own, language, demuxer }) =>
      inputOf(ref, own, language, demuxer),
    ),
  ];
}

const filmsAs = (target: Target): Converter => ({
  ending: target.ending,
  together: 1,
  async convert(items, context, done) {
    for (const [i, item] of items.entries()) {
      const folder = makeTemporary();
      try {
        const file = await made(item, target, folder, context);
        const source = openFileSource(file, item.path);
        try {
          done(i, refOfSpan(source, 0, source.length));
        } finally {
          source.close();
        }
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        done(i, error.facts.file === undefined ? error.with({ file: item.path }) : error);
      } finally {
        fs.rmSync(folder, { recursive: true, force: true });
      }
    }
  },
});

async function made(
  item: ToConvert,
  target: Target,
  folder: string,
  { check }: ConvertContext,
): Promise<string> {
  const inputs = inputsOf(item);
  const laid = inputs.map(({ ref }, i) => layDown(ref, path.join(folder, `input-${i}`)));
  const served = await serveBytes(laid.map(({ ref }) => ref));
  try {
    const probed: Probed[] = [];
    for (const [i, { demuxer }] of inputs.entries())
      probed.push(await probe(served.urls[i]!, demuxer, laid[i]!.ref.length));
    const file = path.join(folder, `film${target.ending}`);
    const sounds = inputs.flatMap(({ language }, input) =>
      probed[input]!.sounds.map((sound, stream): TakenSound => ({
        ...{ input, stream, codec: sound.codec },
        language: language || sound.language,
      })),
    );
    const demuxers = inputs.map(({ demuxer }) => demuxer);
    const whole = { demuxers, picture: probed[0]!.picture?.codec, sounds, target, file };
    await encode(takenArguments(whole, served.urls), { check, progress: check });
    return file;
  } finally {
    served.close();
    for (const one of laid) one.close();
  }
}

/** A sound that goes into what is taken out: where it lies, and what it is. */
export interface TakenSound {
  readonly input: number;
  /** Its number among the sounds of that input. */
  readonly stream: number;
  readonly codec: string;
  readonly language: string;
}

interface Whole {
  /** By input, how ffmpeg is told to read it; the first has the pictures. */
  readonly demuxers: readonly string[];
  readonly picture: string | undefined;
  readonly sounds: readonly TakenSound[];
  readonly target: Target;
  readonly file: string;
}

/** Arguments that have ffmpeg put a film into one file; what its form holds is not coded anew. */
export function takenArguments(
  { demuxers, picture, sounds, target, file }: Whole,
  urls: readonly string[],
): string[] {
  const isKept = picture === undefined || arePicturesKept(target, demuxers[0]!, picture);
  const areKept = areSoundsKept(target, sounds);
  return [
    '-xerror',
    ...demuxers.flatMap((demuxer, i) => [
      // Program streams do not say of each picture when it is shown.
      ...[...INPUT_SAFELY, '-fflags', '+genpts', '-err_detect', 'explode', '-f', demuxer, '-i', urls[i]!],
    ]),
    ...(picture ? ['-map', '0:v:0'] : []),
    ...sounds.flatMap(({ input, stream }) => ['-map', `${input}:a:${stream}`]),
    ...['-map_metadata', '-1'],
    ...sounds.flatMap(({ language }, i) =>
      language === '' ? [] : [`-metadata:s:a:${i}`, `language=${threeLetters(language)}`],
    ),
    ...(isKept ? ['-c:v', 'copy'] : target.pictures),
    ...(areKept ? ['-c:a', 'copy'] : target.sounds),
    ...(target.muxer === 'mp4' ? ['-movflags', '+faststart'] : []),
    ...['-bitexact', '-f', target.muxer, '-y', file],
  ];
}

const arePicturesKept = ({ keeps }: Target, demuxer: string, picture: string): boolean =>
  !WITHOUT_TIMES.has(demuxer) && (keeps === undefined || keeps.pictures.has(picture));

const areSoundsKept = ({ keeps }: Target, sounds: readonly TakenSound[]): boolean =>
  keeps === undefined || sounds.every(({ codec }) => keeps.sounds.has(codec));

/** Whether a film has to be coded anew for a form. */
export const isCodedAnew = ({ target, demuxers, picture, sounds }: Omit<Whole, 'file'>): boolean =>
  (picture !== undefined && !arePicturesKept(target, demuxers[0]!, picture)) ||
  !areSoundsKept(target, sounds);

/** What films are taken out as, by the names that `core/ways.ts` has. */
export const FILM_TARGETS = { mkv: MKV, mp4: MP4, webm: WEBM } as const;

/** Ways to take films out. */
export const filmConverters: Readonly<Record<string, Converter>> = Object.fromEntries(
  Object.entries(FILM_TARGETS).map(([name, target]) => [name, filmsAs(target)]),
);
