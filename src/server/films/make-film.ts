import fs from 'node:fs';
import type { Finding } from '@/core/fit';
import { ChangeRow } from '@/db';
import { isSound } from '@/media/film/core';
import type { FilmWish } from '@/media/film/core/film-wish';
import { makeTemporary } from '@/platform/node/temporary';
import { UserError } from '@/platform/user-error';
import { findEntry } from '../entries/catalogue';
import { changeSlot } from '../mods/change-slot';
import { asStep } from '../mods/history';
import { keepChange, modRow } from '../mods/mods';
import { withOpened } from '../opening/held';
import { openedArchive, openedEntry, type OpenedEntry } from '../opening/opened';
import type { JobContext } from '../running/job-context';
import type { JobInput } from '../running/jobs';
import { receiveBlob } from '../storage/storage';
import { codeFilm, type Coded } from './code-film';
import { saidIn } from './film-view';
import { givenFilm } from './given-film';
import { openFilm, type OpenFilm } from './open-films';
import { refuseUnmade, slotOf } from './slot';

export interface MadeFilmReport {
  readonly film: string;
  readonly pictures: number;
  readonly seconds: number;
  readonly bytes: number;
  readonly changed: readonly string[];
}

/** Codes a film that was given into the streams of one of the game's, each of which becomes a change of the mod; all of them are one step. */
export function makeFilm(input: JobInput<'make-film'>, job: JobContext): Promise<MadeFilmReport> {
  return withOpened(async () => {
    const { gameId, modId, archiveId, index, wish } = input;
    await modRow(gameId, modId);
    const film = await openFilm(gameId, { archiveId, index, original: true });
    const slot = await slotOf(film);
    refuseUnmade(film, slot);
    const entries = await entriesOf(film, gameId, archiveId);
    const given = await givenFilm(wish.blob, wish.name);
    const folder = makeTemporary();
    const keeping = setInterval(() => film.use(), 10_000);
    try {
      if (!given.probed.picture) throw new UserError(422, `${wish.name} has no pictures.`);
      const { marks, texts } = await saidIn(gameId, { archiveId, index, mod: modId });
      const made = await codeFilm({ film, marks, texts, slot, given, wish, folder, job });
      return await kept(made, { film, entries, wish, modId });
    } finally {
      clearInterval(keeping);
      given.close();
      fs.rmSync(folder, { recursive: true, force: true });
    }
  });
}

/** The entries of the folder that the streams of a film lie in, by their numbers in the original. */
async function entriesOf(
  { source }: OpenFilm,
  gameId: number,
  archiveId: number,
): Promise<Map<number, OpenedEntry>> {
  const { index } = source;
  if (index !== undefined) return new Map([[index, await openedEntry(gameId, archiveId, index)]]);
  const opened = await openedArchive(gameId, archiveId);
  const inFolder = new Map(Array.from(opened.archive.entries, (entry) => [entry.path, entry]));
  return new Map(
    source.tracks.map(({ entry }) => [entry.index, { ...opened, entry: inFolder.get(entry.path) ?? entry }]),
  );
}

interface Keeping {
  readonly film: OpenFilm;
  readonly entries: ReadonlyMap<number, OpenedEntry>;
  readonly wish: FilmWish;
  readonly modId: number;
}

async function kept(
  { streams, pictures, seconds }: Coded,
  { film, entries, wish, modId }: Keeping,
): Promise<MadeFilmReport> {
  const ready: { opened: OpenedEntry; blob: string; size: number; findings: readonly Finding[] }[] = [];
  for (const { index, file, findings } of streams) {
    const { sha256: blob, size } = await receiveBlob(fs.createReadStream(file), Infinity);
    ready.push({ opened: entries.get(index)!, blob, size, findings });
  }
  const made = new Set(streams.map(({ index }) => index));
  // A sound that is kept is that of the game, whatever the mod had in its place before.
  const back = film.source.tracks.flatMap((track) =>
    isSound(track) && !made.has(track.entry.index) ? [entries.get(track.entry.index)!] : [],
  );
  const [slots, backSlots] = await Promise.all([
    Promise.all(ready.map(({ opened }) => changeSlot(opened))),
    Promise.all(back.map(changeSlot)),
  ]);
  const what = `making ${film.source.title} of ${wish.name}`;
  await asStep(modId, what, [...slots, ...backSlots], async () => {
    for (const slot of backSlots) await ChangeRow.destroy({ where: { modId, ...slot } });
    for (const { opened, blob, size, findings } of ready) {
      const record = await findEntry(opened.gameId, opened.row.id, opened.entry.index);
      await keepChange(opened, modId, {
        given: { name: wish.name, blob, size },
        kind: record?.kind ?? 'film',
        path: record?.path ?? opened.entry.path,
        prepared: { blob, size },
        ...{ mends: [], findings },
      });
    }
  });
  return {
    ...{ film: film.source.title, pictures, seconds },
    bytes: ready.reduce((sum, { size }) => sum + size, 0),
    changed: ready.map(({ opened }) => opened.entry.path),
  };
}
