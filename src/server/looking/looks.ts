import fs from 'node:fs';
import path from 'node:path';
import { FormatError } from '@/core/bytes';
import { ALIKE, apartness, groupLooks, isTelling, lookOf, type LookHash } from '@/media/picture/core/looks';
import type { Pixels } from '@/media/picture/core/texture';
import { findRefs } from '../entries/entries';
import type { JobContext } from '../running/job-context';
import { openedEntry, stampOfEntry } from '../opening/opened';
import { smallPixels } from './preview';
import { storageFolder } from '../storage/storage';
import { UserError } from '@/platform/user-error';

/** A picture that looks like another one. */
export interface Alike {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
  readonly apart: number;
}

export interface AlikeResult {
  /** What they look like, as `archive:number`. */
  readonly of: string;
  readonly alike: readonly Alike[];
  readonly detail: string;
}

interface Ref {
  readonly archiveId: number;
  readonly index: number;
  readonly path: string;
}

const MOST_PICTURES = 100_000;
const MOST_FOUND = 60;
/** A picture of so many texels a side tells as much of a look as a larger one; in smaller ones fields begin to blur. */
const SIDE = 256;

/** Looks of a game's pictures by what tells their contents, kept beside its thumbnails. */
class KeptLooks {
  private readonly file: string;
  private readonly looks: Map<string, LookHash>;
  private isChanged = false;

  constructor(gameId: number) {
    this.file = path.join(storageFolder('thumbnails', String(gameId)), 'looks.json');
    let kept: Record<string, LookHash> = {};
    try {
      kept = JSON.parse(fs.readFileSync(this.file, 'utf8')) as Record<string, LookHash>;
    } catch {
      // None were kept yet, or they can be made again.
    }
    this.looks = new Map(Object.entries(kept));
  }

  /** Undefined where it cannot be looked at. */
  async of(gameId: number, { archiveId, index }: Omit<Ref, 'path'>): Promise<LookHash | undefined> {
    try {
      const opened = await openedEntry(gameId, archiveId, index);
      const stamp = stampOfEntry(opened);
      const known = this.looks.get(stamp);
      if (known) return known;
      const look = lookOf(await smallPixels(opened, SIDE));
      this.looks.set(stamp, look);
      this.isChanged = true;
      return look;
    } catch (error) {
      if (error instanceof FormatError || error instanceof UserError) return undefined;
      throw error;
    }
  }

  keep(): void {
    if (!this.isChanged) return;
    const fresh = `${this.file}.${process.pid}`;
    fs.writeFileSync(fresh, JSON.stringify(Object.fromEntries(this.looks)));
    fs.renameSync(fresh, this.file);
  }
}

const picturesOf = (gameId: number, folder: string, search = ''): Promise<readonly Ref[]> =>
  findRefs(
    {
      ...{ gameId, folder, search, kind: 'picture', archiveId: undefined },
      ...{ sort: 'archive', isDescending: false, offset: 0, limit: MOST_PICTURES },
    },
    MOST_PICTURES,
  );

/** Others get their turn between two pictures. */
const breathe = (): Promise<void> => new Promise(setImmediate);

/** Looks at all pictures of a game for those that look like one of them. */
export async function findAlike(
  { gameId, archiveId, index }: { gameId: number; archiveId: number; index: number },
  job: JobContext,
): Promise<AlikeResult> {
  const kept = new KeptLooks(gameId);
  const wanted = await kept.of(gameId, { archiveId, index });
  if (!wanted)
    throw new UserError(422, 'This picture cannot be looked at, so nothing can be held against it.');
  const refs = await picturesOf(gameId, '');
  const alike: Alike[] = [];
  try {
    for (const [i, ref] of refs.entries()) {
      job.check();
      job.progress(i, refs.length, 'items', ref.path);
      if (ref.archiveId === archiveId && ref.index === index) continue;
      const look = await kept.of(gameId, ref);
      const apart = look === undefined ? Infinity : apartness(wanted, look);
      if (apart <= ALIKE) alike.push({ archiveId: ref.archiveId, index: ref.index, path: ref.path, apart });
      await breathe();
    }
  } finally {
    kept.keep();
  }
  alike.sort((a, b) => a.apart - b.apart);
  return {
    of: `${archiveId}:${index}`,
    alike: alike.slice(0, MOST_FOUND),
    detail: `${alike.length === 0 ? 'None' : alike.length.toLocaleString('en')} of ${refs.length.toLocaleString('en')} pictures ${alike.length === 1 ? 'looks' : 'look'} like it.`,
  };
}

export interface LookGroups {
  /** What was looked through. */
  readonly folder: string;
  readonly search: string;
  readonly groups: readonly (readonly Ref[])[];
  readonly detail: string;
}

/** So many groups are told, and so many pictures of each. */
const MOST_GROUPS = 300;
const MOST_IN_GROUP = 60;

/** Puts the pictures of a list together that look alike. */
export async function groupByLook(
  { gameId, folder, search }: { gameId: number; folder: string; search: string },
  job: JobContext,
): Promise<LookGroups> {
  const kept = new KeptLooks(gameId);
  const refs = await picturesOf(gameId, folder, search);
  const looks: (LookHash | undefined)[] = [];
  try {
    for (const [i, ref] of refs.entries()) {
      job.check();
      job.progress(i, refs.length, 'items', ref.path);
      looks.push(await kept.of(gameId, ref));
      await breathe();
    }
  } finally {
    kept.keep();
  }
  const groups = groupLooks(looks, () => job.check());
  const alike = groups.reduce((sum, { length }) => sum + length, 0);
  const count = (value: number): string => value.toLocaleString('en');
  return {
    folder,
    search,
    groups: groups
      .slice(0, MOST_GROUPS)
      .map((group) =>
        group
          .slice(0, MOST_IN_GROUP)
          .map((i) => ({ archiveId: refs[i]!.archiveId, index: refs[i]!.index, path: refs[i]!.path })),
      ),
    detail: `${count(alike)} of ${count(refs.length)} pictures are in ${count(groups.length)} groups of look-alikes${groups.length > MOST_GROUPS ? `, the ${MOST_GROUPS} largest shown` : ''}.`,
  };
}

/** So many pictures of a folder are looked at while somebody waits. */
const MOST_WAITED_FOR = 1500;
/** The best has to be so much nearer than the next one, or it might be either. */
const CLEAR = 3;

/** The path of the one picture below a folder that looks like what was given; undefined where none or several do. */
export async function matchByLook(
  gameId: number,
  folder: string,
  given: Pixels,
): Promise<string | undefined> {
  const refs = await picturesOf(gameId, folder);
  if (refs.length > MOST_WAITED_FOR) return undefined;
  const wanted = lookOf(given);
  if (!isTelling(wanted)) return undefined;
  const kept = new KeptLooks(gameId);
  const found = new Map<string, number>();
  for (const ref of refs) {
    const look = await kept.of(gameId, ref);
    if (look !== undefined)
      found.set(ref.path, Math.min(apartness(wanted, look), found.get(ref.path) ?? Infinity));
    await breathe();
  }
  kept.keep();
  const [best, next] = [...found].sort((a, b) => a[1] - b[1]);
  if (!best || best[1] > ALIKE || (next && next[1] < best[1] + CLEAR)) return undefined;
  return best[0];
}
