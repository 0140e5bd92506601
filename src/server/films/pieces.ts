import type { ChildProcess } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { startFfmpeg, plainWords } from '@/media/film/node/run-ffmpeg';
import { UserError } from '@/platform/user-error';
import { secondsOf, soundAt } from './film-view';
import { inputsFor } from './whole';
import type { OpenFilm } from './open-films';

/** Seconds of a piece: short, so that the first is there soon. */
export const PIECE_SECONDS = 2;
/** So many are made before they are asked for; then the encoder rests. */
const AHEAD = 12;
/** A piece that is so near to those being made is waited for. */
const NEAR = 6;
/** So many lie about on either side of where one is; a film of hours would fill the disk. */
const KEPT = 150;
/** More pieces than this no list tells of: more than two days. */
const MOST_PIECES = 100_000;
/** A last piece shorter than this may have nothing in it. */
const LEAST_SECONDS = 0.1;
const MOST_WAIT_MS = 30_000;
/** What is watched is made no larger than this. */
const MOST_HEIGHT = 720;

/** What makes the pieces of one film with one sound, from some piece on, while somebody watches. */
interface Maker {
  child: ChildProcess;
  readonly from: number;
  readonly folder: string;
  /** The last piece that it has finished. */
  last: number;
  /** The last piece that was asked for. */
  asked: number;
  isOver: boolean;
  /** Whether it came to the end of the film. */
  hasEnded: boolean;
  isResting: boolean;
  said: string;
}

const makers = new WeakMap<OpenFilm, Map<number, Maker>>();

export const pieceCount = (film: OpenFilm): number =>
  Math.min(MOST_PIECES, Math.max(1, Math.ceil((secondsOf(film) - LEAST_SECONDS) / PIECE_SECONDS)));

/** The list of all pieces (HTTP Live Streaming, RFC 8216): their lengths are known before any is made. */
export function pieceList(film: OpenFilm): string {
  const seconds = secondsOf(film);
  const count = pieceCount(film);
  const lines = Array.from({ length: count }, (_, i) => {
    const length = i === count - 1 ? Math.max(0.1, seconds - i * PIECE_SECONDS) : PIECE_SECONDS;
    return `#EXTINF:${length.toFixed(3)},\n${i}.ts`;
  });
  return `#EXTM3U\n#EXT-X-VERSION:3\n#EXT-X-PLAYLIST-TYPE:VOD\n#EXT-X-TARGETDURATION:${PIECE_SECONDS + 1}\n${lines.join('\n')}\n#EXT-X-ENDLIST\n`;
}

/** One piece of a film, coded anew; made now where it is not there yet. Throws UserError with what the encoder said where it cannot be. */
export async function pieceOf(film: OpenFilm, sound: number, number: number): Promise<Buffer> {
  if (number >= pieceCount(film) || (sound > 0 && !soundAt(film, sound)))
    throw new UserError(404, 'The film has no such piece.');
  let own = makers.get(film);
  if (!own) {
    makers.set(film, (own = new Map()));
    const all = own;
    film.endings.add(() => {
      for (const maker of all.values()) end(maker);
    });
  }
  const file = path.join(film.folder, `pieces-${sound}`, `${number}.ts`);
  const until = Date.now() + MOST_WAIT_MS;
  let maker = own.get(sound);
  if (!fs.existsSync(file)) {
    const last = maker && !maker.isOver ? made(maker) : undefined;
    const isComing = last !== undefined && number > last && number <= last + NEAR;
    if (!isComing) {
      if (maker) end(maker);
      own.set(sound, (maker = begin(film, sound, number)));
    }
  }
  if (maker) {
    maker.asked = number;
    pace(maker);
    dropFar(maker, number);
  }
  while (!fs.existsSync(file)) {
    film.use();
    if (maker?.isOver && !fs.existsSync(file)) {
      // Some containers only guess how long they are.
      if (maker.hasEnded) throw new UserError(410, `${film.source.title} has ended before.`);
      throw new UserError(
        422,
        `${film.source.title} cannot be shown from there: ${plainWords(maker.said) || 'the encoder was stopped'}.`,
      );
    }
    if (Date.now() > until)
      throw new UserError(422, `${film.source.title} is made too slowly to be watched.`);
    await wait(25);
  }
  film.use();
  return fs.promises.readFile(file);
}

/** The last piece that a maker has finished; it makes them one after the other. */
function made(maker: Maker): number {
  while (fs.existsSync(path.join(maker.folder, `${maker.last + 1}.ts`))) maker.last++;
  return maker.last;
}

/** Throws pieces away that are far from where one is; they are made again where one goes back. */
function dropFar({ folder }: Maker, number: number): void {
  if (number % 10 !== 0) return;
  for (const name of fs.readdirSync(folder)) {
    const own = /^(\d+)\.ts$/.exec(name)?.[1];
    if (own !== undefined && Math.abs(Number(own) - number) > KEPT)
      fs.rmSync(path.join(folder, name), { force: true });
  }
}

/** Lets the encoder rest where it is far ahead, and go on where it is not. */
function pace(maker: Maker): void {
  if (maker.isOver) return;
  const rests = made(maker) > maker.asked + AHEAD;
  if (rests === maker.isResting) return;
  maker.isResting = rests;
  maker.child.kill(rests ? 'SIGSTOP' : 'SIGCONT');
}

function end(maker: Maker): void {
  maker.isOver = true;
  maker.child.kill('SIGKILL');
}

function begin(film: OpenFilm, sound: number, from: number): Maker {
  const folder = path.join(film.folder, `pieces-${sound}`);
  fs.mkdirSync(folder, { recursive: true });
  const at = from * PIECE_SECONDS;
  const { inputs, maps } = inputsFor(film, sound, at > 0 ? ['-ss', String(at)] : []);
  const { picture } = film.probed[0]!;
  const isTall = (picture?.height ?? 0) > MOST_HEIGHT;
  const even = isTall ? `scale=-2:${MOST_HEIGHT}` : 'scale=trunc(iw/2)*2:trunc(ih/2)*2';
  const args = [
    ...inputs,
    ...maps,
    ...[
      '-vf',
      `${even},format=yuv420p`,
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-tune',
      'zerolatency',
      '-crf',
      '23',
    ],
    ...['-force_key_frames', `expr:gte(t,n_forced*${PIECE_SECONDS})`, '-sc_threshold', '0'],
    ...['-c:a', 'aac', '-ac', '2', '-b:a', '160k', '-ar', '48000'],
    ...[
      '-output_ts_offset',
      String(at),
      '-muxdelay',
      '0',
      '-muxpreload',
      '0',
      '-max_muxing_queue_size',
      '4096',
    ],
    ...['-f', 'hls', '-hls_time', String(PIECE_SECONDS), '-hls_list_size', '0', '-hls_flags', 'temp_file'],
    ...['-start_number', String(from), '-hls_segment_filename', path.join(folder, '%d.ts')],
    ...['-y', path.join(folder, 'made.m3u8')],
  ];
  const child = startFfmpeg(args);
  const maker: Maker = {
    child,
    from,
    folder,
    asked: from,
    last: from - 1,
    hasEnded: false,
    isOver: false,
    isResting: false,
    said: '',
  };
  child.stderr?.on('data', (part: Buffer) => {
    if (maker.said.length < 4000) maker.said += String(part);
  });
  const watch = setInterval(() => pace(maker), 300);
  const over = (): void => {
    clearInterval(watch);
    maker.isOver = true;
  };
  child.once('error', (error) => {
    maker.said = error.message;
    over();
  });
  child.once('close', (code) => {
    maker.hasEnded = code === 0;
    over();
  });
  return maker;
}
