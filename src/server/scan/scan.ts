import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { NameList } from '@/core/archive';
import { toHex } from '@/core/bytes';
import { fitsVersion } from '@/core/keys';
import { KeyRow, NameListRow, ArchiveRow, models } from '@/db';
import { readListingAbout } from '@/platform/node/catalogue-files';
import { presentGame } from '../games/games';
import type { JobContext } from '../running/job-context';
import { kindRules, refreshShelf, scriptById } from '../opening/scripts';
import { storageFolder } from '../storage/storage';
import { findingsOf, versionOfScript, versionsOfFiles } from './findings';
import { walkFolder, type FolderFile } from './folder-files';
import { digestOfNames, knownNames, withNested } from './known-names';
import {
  digestOfKey,
  digestOfKeys,
  listingName,
  lookInto,
  type ArchiveOutcome,
  type ArchiveTask,
  type ListingAbout,
  type TaskKey,
} from './look-into';
import { saveScan, type ScanResult } from './save';

/** Threads that look into archives. */
export interface ScanThreads {
  run(
    tasks: readonly ArchiveTask[],
    names: NameList,
    onDone: (outcome: ArchiveOutcome) => void,
    /** Throws when the job is told to stop; then nothing is waited for. */
    check: () => void,
  ): Promise<ArchiveOutcome[]>;
  close(): Promise<void>;
}
export type StartScanThreads = () => ScanThreads;

/** Looks through a game folder: which files are archives, which keys open them, what is in them. */
export async function scanGame(
  gameId: number,
  job: JobContext,
  startThreads?: StartScanThreads,
): Promise<ScanResult> {
  models();
  const game = await presentGame(gameId);
  refreshShelf();
  const keys = (await KeyRow.findAll({ where: { gameId }, order: [['id', 'ASC']] })).map(
    ({ id, label, bytes, tiedTo, version }) => ({
      id,
      label,
      bytes: new Uint8Array(bytes),
      tiedTo,
      version,
    }),
  );
  const chosen = new Map(
    (await ArchiveRow.findAll({ where: { gameId }, attributes: ['path', 'chosenScript'] })).flatMap(
      ({ path, chosenScript }) => (chosenScript ? [[path, chosenScript] as const] : []),
    ),
  );
  const lists = await listsFor(gameId);
  const given = NameList.parse(lists.map(({ names }) => names).join('\n'));
  const guessed = new Set(
    lists.filter(({ origin }) => origin === 'guessed').flatMap(({ names }) => names.split('\n')),
  );
  const walk = walkFolder(game.folder, chosen, job);
  const told = versionsOfFiles(game.folder, walk.files);
  const listings = storageFolder('catalogues', String(gameId));
  const givenDigest = digestOfNames(given);
  const archives = walk.files.filter(({ script }) => script !== undefined);
  const versions = told.map(({ what }) => what);
  const keysFor = ({ script }: FolderFile): readonly TaskKey[] =>
    keys.filter(({ version }) => fitsVersion(version, [versionOfScript(script!) ?? [], ...versions].flat()));
  const kinds = digestOfKinds();
  const taskOf = (file: FolderFile, namesDigest: string): ArchiveTask => ({
    folder: game.folder,
    path: file.path,
    script: file.script!,
    keys: keysFor(file),
    listings,
    stamp: stampOf(game.folder, file, kinds),
    givenDigest,
    namesDigest,
    guessed,
  });
  let threads: ScanThreads | undefined;
  const lookAll = async (tasks: readonly ArchiveTask[], names: NameList): Promise<ArchiveOutcome[]> => {
    let done = 0;
    const onDone = ({ path }: ArchiveOutcome): void => {
      job.check();
      job.progress(++done, tasks.length, 'items', path);
    };
    // Never on this thread where there are others: bytes that keep a decoder busy must not keep it from being told to stop.
    if (tasks.length > 0 && startThreads)
      return (threads ??= startThreads()).run(tasks, names, onDone, () => job.check());
    return tasks.map((task) => {
      job.progress(done, tasks.length, 'items', `opening ${task.path}`);
      const outcome = lookInto(task, names);
      onDone(outcome);
      return outcome;
    });
  };
  try {
    const outcomes = new Map<string, ArchiveOutcome>();
    const anew: ArchiveTask[] = [];
    for (const file of archives) {
      const task = taskOf(file, givenDigest);
      const kept = stillRight(task);
      if (kept) outcomes.set(file.path, kept);
      else anew.push(task);
    }
    for (const outcome of await lookAll(anew, given)) outcomes.set(outcome.path, outcome);
    const wanting = archives.filter(({ path }) =>
      [...withNested([outcomes.get(path)!])].some(({ unnamed }) => unnamed > 0),
    );
    if (wanting.length > 0) {
      job.progress(0, wanting.length, 'items', 'trying the names of all archives');
      const all = knownNames(given, [...outcomes.values()]);
      const digest = digestOfNames(all);
      const again = wanting
        .map((file) => taskOf(file, digest))
        .filter((task) => aboutOf(task)?.namesDigest !== digest);
      for (const outcome of await lookAll(again, all)) outcomes.set(outcome.path, outcome);
    }
    const found = archives.map(({ path }) => outcomes.get(path)!);
    const findings = findingsOf(game.folder, walk, found, told);
    return await saveScan(gameId, { walk, found, findings, listings }, job);
  } finally {
    await threads?.close();
  }
}

/** Name lists of the game, and those of other games that are shared. */
async function listsFor(gameId: number): Promise<NameListRow[]> {
  const rows = await NameListRow.findAll({ order: [['id', 'ASC']] });
  return rows.filter((row) => row.gameId === gameId || row.shared);
}

/** What scripts say of kinds, which all listings follow from. */
const digestOfKinds = (): string =>
  createHash('sha1')
    .update(
      JSON.stringify(kindRules().scripts, (_name, value: unknown) =>
        value instanceof Uint8Array ? toHex(value) : value,
      ),
    )
    .digest('hex');

/** What an archive's listing follows from besides keys and names. */
function stampOf(folder: string, { path, size, modifiedMs, script }: FolderFile, kinds: string): string {
  const ino = fs.statSync(`${folder}/${path}`, { throwIfNoEntry: false })?.ino ?? 0;
  const text = scriptById(script!)?.text ?? '';
  return createHash('sha1')
    .update(JSON.stringify([ino, size, modifiedMs, script, text, kinds]))
    .digest('hex');
}

const aboutOf = ({ listings, path }: ArchiveTask): ListingAbout | undefined =>
  readListingAbout(`${listings}/${listingName(path)}`) as ListingAbout | undefined;

/** What is known of an archive already, where nothing that it follows from has changed. */
function stillRight(task: ArchiveTask): ArchiveOutcome | undefined {
  const about = aboutOf(task);
  if (!about || about.stamp !== task.stamp) return undefined;
  const { outcome } = about;
  const all = [...withNested([outcome])];
  const digests = new Map(task.keys.map(({ id, bytes }) => [digestOfKey(bytes), id]));
  const sameKeys = about.keysDigest === digestOfKeys(task.keys);
  for (const one of all) {
    if (one.state === 'broken') return undefined;
    // Locked, or open only as far as no key is needed.
    if (one.keyed && one.keyId === null && !sameKeys) return undefined;
    if (one.keyDigest !== '' && !digests.has(one.keyDigest)) return undefined;
    // A key that was taken out and put in again has another number.
    if (one.keyDigest !== '' && digests.get(one.keyDigest) !== one.keyId) return undefined;
    if (one.hashing && about.givenDigest !== task.givenDigest) return undefined;
    for (const { path, size, modifiedMs } of one.companions) {
      const stat = fs.statSync(`${task.folder}/${path}`, { throwIfNoEntry: false });
      if (stat?.size !== size || Math.round(stat.mtimeMs) !== modifiedMs) return undefined;
    }
    if (one !== outcome && !fs.existsSync(one.listing)) return undefined;
  }
  return outcome;
}
