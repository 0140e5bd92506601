import fs from 'node:fs';
import path from 'node:path';
import type { Probed } from '@/media/film/core/probed';
import { probe } from '@/media/film/node/probe';
import { serveBytes, type ServedBytes } from '@/platform/node/byte-server';
import { layDown } from '@/platform/node/lay-down';
import { makeTemporary } from '@/platform/node/temporary';
import { keepOpened } from '../opening/held';
import { filmSource, type FilmKey, type FilmSource } from './film-source';

/** A film that is open for being watched: its streams at addresses that ffmpeg reads, what they are, and a folder for what is made of it. */
export interface OpenFilm {
  readonly source: FilmSource;
  readonly urls: readonly string[];
  /** By input. */
  readonly probed: readonly Probed[];
  readonly folder: string;
  /** Whatever is to end with it. */
  readonly endings: Set<() => void>;
  readonly usedAt: () => number;
  use(): void;
}

interface Kept extends OpenFilm {
  readonly served: ServedBytes;
  over: () => void;
}

declare global {
  var zeroLatchFilms: Map<string, Promise<Kept>> | undefined;
  var zeroLatchFilmsTimer: NodeJS.Timeout | undefined;
}
const films = (): Map<string, Promise<Kept>> =>
  (globalThis.zeroLatchFilms ??= new Map<string, Promise<Kept>>());

const MOST_OPEN = 4;
const IDLE_MS = 90_000;
const LOOK_MS = 15_000;

/** Opens a film, or gives it where it is open and its bytes are the same. It stays open while somebody watches. */
export async function openFilm(gameId: number, key: FilmKey): Promise<OpenFilm> {
  const source = await filmSource(gameId, key);
  const name = `${gameId} ${source.archiveId} ${source.index ?? ''} ${source.mod ?? ''} ${source.stamp}`;
  const known = films().get(name);
  if (known) {
    source.close();
    const film = await known;
    film.use();
    return film;
  }
  const opening = openNow(source);
  films().set(name, opening);
  globalThis.zeroLatchFilmsTimer ??= setInterval(() => void closeIdle(IDLE_MS), LOOK_MS).unref();
  opening.catch(() => films().delete(name));
  const film = await opening;
  await closeMost();
  return film;
}

async function openNow(source: FilmSource): Promise<Kept> {
  const folder = makeTemporary();
  const endings = new Set<() => void>();
  const over = keepOpened();
  let served: ServedBytes | undefined;
  try {
    const refs = source.inputs.map(({ ref }, i) => {
      const laid = layDown(ref, path.join(folder, `input-${i}`));
      endings.add(() => laid.close());
      return laid.ref;
    });
    served = await serveBytes(refs);
    const { urls } = served;
    const probed = await Promise.all(
      source.inputs.map(({ demuxer }, i) => probe(urls[i]!, demuxer, refs[i]!.length)),
    );
    let usedAt = Date.now();
    return {
      ...{ source, urls, probed, folder, endings, served, over },
      usedAt: () => usedAt,
      use: () => (usedAt = Date.now()),
    };
  } catch (error) {
    served?.close();
    for (const end of endings) end();
    source.close();
    fs.rmSync(folder, { recursive: true, force: true });
    over();
    throw error;
  }
}

async function close(name: string, opening: Promise<Kept>): Promise<void> {
  films().delete(name);
  const film = await opening.catch(() => undefined);
  if (!film) return;
  film.served.close();
  for (const end of film.endings) end();
  film.source.close();
  film.over();
  fs.rmSync(film.folder, { recursive: true, force: true });
}

/** Closes films that nobody has asked anything of for so long. */
export async function closeIdle(idleMs: number): Promise<void> {
  for (const [name, opening] of films()) {
    const film = await opening.catch(() => undefined);
    if (!film || Date.now() - film.usedAt() >= idleMs) await close(name, opening);
  }
}

async function closeMost(): Promise<void> {
  const open = await Promise.all(
    [...films()].map(async ([name, opening]) => ({
      name,
      opening,
      usedAt: (await opening.catch(() => undefined))?.usedAt() ?? 0,
    })),
  );
  for (const { name, opening } of open.sort((a, b) => b.usedAt - a.usedAt).slice(MOST_OPEN))
    await close(name, opening);
}
