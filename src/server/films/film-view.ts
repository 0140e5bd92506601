import { tongueName, tonguesIn } from '@/core/catalogue';
import { playingOf, type Playing } from '@/media/film/core';
import type { ProbedPicture } from '@/media/film/core/probed';
import { marksOf, textsOf, type FilmMark, type FilmTexts } from './marks';
import { openFilm, type OpenFilm } from './open-films';
import { filmSource, type FilmKey } from './film-source';

export interface FilmSound {
  readonly language: string;
  readonly name: string;
  readonly codec: string;
  readonly rate: number;
  readonly channels: number;
  /** Seconds, where that is known. */
  readonly seconds: number | undefined;
}

/** A film as it is watched. */
export interface FilmView {
  readonly archiveId: number;
  readonly index: number | undefined;
  readonly title: string;
  readonly seconds: number;
  readonly bytes: number;
  readonly picture: (ProbedPicture & { readonly count: number }) | undefined;
  readonly sounds: readonly FilmSound[];
  readonly marks: readonly FilmMark[];
  /** These and those that show a text; undefined where it has no stream of marks, so that none are added. */
  readonly allMarks: readonly FilmMark[] | undefined;
  readonly texts: readonly FilmTexts[];
  /** How it is played, by the number of the sound. */
  readonly playing: readonly Playing[];
  /** The entry that its pictures lie in, and those of its sounds, where it is an archive. */
  readonly entries: readonly { readonly index: number; readonly path: string }[];
  /** Changes with its bytes. */
  readonly stamp: string;
}

/** Where ffmpeg finds a sound: the input, and the number of the stream in it. */
export function soundAt(
  { source, probed }: OpenFilm,
  sound: number,
): { input: number; stream: number } | undefined {
  if (source.languages === undefined) return probed[0]!.sounds[sound] && { input: 0, stream: sound };
  const input = sound + (source.hasPicture ? 1 : 0);
  return probed[input] && { input, stream: 0 };
}

const named = (said: string): string => {
  const [code] = tonguesIn(said);
  return code === undefined ? said : tongueName(code);
};

function soundsOf({ source, probed }: OpenFilm): FilmSound[] {
  const { languages, hasPicture } = source;
  const all =
    languages?.map((language, i) => ({ ...probed[i + (hasPicture ? 1 : 0)]!, language })) ??
    probed[0]!.sounds.map((own) => ({ sounds: [own], seconds: undefined, language: own.language }));
  return all.flatMap(({ sounds: [sound], seconds, language }) =>
    sound ? [{ ...sound, language, name: named(language) || 'Sound', seconds }] : [],
  );
}

/** How long it is: as long as its pictures, or its longest sound where it has none. */
export function secondsOf({ source, probed }: OpenFilm): number {
  if (source.hasPicture) return probed[0]!.seconds ?? 0;
  return Math.max(0, ...probed.map(({ seconds }) => seconds ?? 0));
}

export function playingFor(film: OpenFilm, sound: number): Playing {
  const { source, probed } = film;
  const at = soundAt(film, sound);
  return playingOf({
    picture: probed[0]!.picture?.codec,
    pixels: probed[0]!.picture?.pixels ?? '',
    sound: at && probed[at.input]!.sounds[at.stream]?.codec,
    demuxer: source.inputs[0]!.demuxer,
    isOne: source.inputs.length === 1,
    bytes: source.inputs.reduce((sum, { ref }) => sum + ref.length, 0),
  });
}

/** What a film marks and says by now; it may be changed while the film is open. */
export async function saidIn(
  gameId: number,
  key: FilmKey,
): Promise<{ marks: readonly FilmMark[]; texts: readonly FilmTexts[] }> {
  const source = await filmSource(gameId, key);
  try {
    const marks = marksOf(source);
    return { marks, texts: await textsOf(source, marks) };
  } finally {
    source.close();
  }
}

/** All that a screen shows of a film before it plays. */
export async function filmView(gameId: number, key: FilmKey): Promise<FilmView> {
  const film = await openFilm(gameId, key);
  const { source, probed } = film;
  const sounds = soundsOf(film);
  const seconds = secondsOf(film);
  const picture = probed[0]!.picture;
  const { marks, texts } = await saidIn(gameId, key);
  const { subtitles } = source.marks?.entry.group.film ?? {};
  return {
    ...{ archiveId: source.archiveId, index: source.index, title: source.title, stamp: source.stamp },
    ...{ seconds, sounds },
    bytes: source.inputs.reduce((sum, { ref }) => sum + ref.length, 0),
    picture: picture && { ...picture, count: Math.round(seconds * picture.rate) },
    // Those that show a text are shown as that.
    marks: marks.filter(({ text }) => !subtitles || text.split(/\s/)[0] !== subtitles.word),
    allMarks: source.marks && marks,
    texts,
    playing: Array.from({ length: Math.max(1, sounds.length) }, (_, i) => playingFor(film, i)),
    entries: source.tracks.map(({ entry }) => ({ index: entry.index, path: entry.path })),
  };
}
