import { ArchiveRow, models } from '@/db';
import { listBuilds } from '../building/builds';
import { countEntries } from './catalogue';
import { findGame } from '../games/games';
import { activeInstallation } from '../installing/installations';
import { listMods } from '../mods/mods';
import { listTrials } from '../running/trials';

export const LINKS = ['folder', 'locks', 'contents', 'changes', 'build', 'installed', 'trial'] as const;
export type LinkName = (typeof LINKS)[number];

/** Good, to be looked at, broken, locked or not begun. */
export type LinkState = 'good' | 'look' | 'bad' | 'none';

export interface Link {
  readonly name: LinkName;
  readonly state: LinkState;
  readonly fact: string;
}

const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`;

/** The state of every link of a game's chain, in the order of the work. */
export async function chainOf(gameId: number, modId: number | undefined): Promise<Link[]> {
  models();
  const game = await findGame(gameId);
  const [archives, counts, mods, active, trials] = await Promise.all([
    ArchiveRow.findAll({ where: { gameId, sort: 'file' } }),
    countEntries(gameId),
    listMods(gameId),
    activeInstallation(gameId),
    listTrials(gameId),
  ]);
  const mod = mods.find(({ id }) => id === modId) ?? mods.at(-1);
  const build = mod ? (await listBuilds(gameId, mod.id))[0] : undefined;
  const open = archives.filter(({ state }) => state === 'open').length;
  const broken = archives.filter(({ state }) => state === 'broken').length;
  const bytes = archives.reduce((sum, { size }) => sum + size, 0);
  const [trial] = trials;
  return [
    {
      name: 'folder',
      state: !game.present ? 'bad' : game.scannedAt ? 'good' : 'none',
      fact: !game.present
        ? 'the folder is gone'
        : `${plural(archives.length, 'archive')}, ${(bytes / 1e6).toFixed(1)} MB`,
    },
    {
      name: 'locks',
      state:
        broken > 0
          ? 'bad'
          : archives.length > 0 && open === archives.length
            ? 'good'
            : open > 0
              ? 'look'
              : 'none',
      fact: archives.length === 0 ? 'no archives yet' : `${open} of ${archives.length} open`,
    },
    {
      name: 'contents',
      state: counts.count > 0 ? 'good' : 'none',
      fact: counts.count > 0 ? plural(counts.count, 'entry', 'entries') : 'nothing open',
    },
    {
      name: 'changes',
      state: !mod || mod.changes === 0 ? 'none' : mod.notFitting > 0 ? 'bad' : 'look',
      fact:
        !mod || mod.changes === 0
          ? 'no changes'
          : mod.notFitting > 0
            ? `${mod.changes}, ${mod.notFitting} not fitting`
            : plural(mod.changes, 'change'),
    },
    {
      name: 'build',
      state: !build ? 'none' : !build.holds ? 'bad' : build.stale ? 'look' : 'good',
      fact: !build
        ? 'not built yet'
        : !build.holds
          ? 'the proof fails'
          : build.stale
            ? 'older than the changes'
            : 'built and proved',
    },
    {
      name: 'installed',
      state: active ? 'good' : 'none',
      fact: active ? `${active.title}, ${plural(active.files.length, 'file')}` : 'originals only',
    },
    {
      name: 'trial',
      state: !trial ? 'none' : trial.stale ? 'look' : trial.loaded ? 'good' : 'bad',
      fact: !trial
        ? game.standIn
          ? 'not run yet'
          : 'no stand-in'
        : trial.stale
          ? 'not run since the folder changed'
          : trial.loaded
            ? 'loads'
            : 'stalls',
    },
  ];
}
