import { codeOfKind, type Kind } from '@/core/kinds';
import { createHash } from 'node:crypto';
import fs from 'node:fs';
import {
  entrySource,
  openArchive,
  type Archive,
  type Entry,
  type Names,
  type OpenOptions,
} from '@/core/archive';
import { FormatError, memorySource, toHex, windowOf } from '@/core/bytes';
import { FLAG, listArchive, ListingBuilder, type Listing } from '@/core/catalogue';
import { tellsOf } from '@/media/archive/core';
import { withPatience, type Patience } from '@/core/codecs';
import type { Script } from '@/core/script';
import { writeListing } from '@/platform/node/catalogue-files';
import { companionsOf } from '@/platform/node/companions';
import { openFileSource } from '@/platform/node/file-source';
import { resolveInside } from '@/platform/node/inside';
import { besides } from '../opening/open-file';
import { archiveScriptFor, kindRules, scriptById } from '../opening/scripts';
import { unlock, type KeyTry, type TaskKey } from './unlock';

export type { KeyTry, TaskKey } from './unlock';

/** An archive to be opened and listed, in a form that can be sent to a thread. */
export interface ArchiveTask {
  readonly folder: string;
  /** Path below the folder. */
  readonly path: string;
  readonly script: string;
  readonly keys: readonly TaskKey[];
  /** Folder for listings. */
  readonly listings: string;
  readonly stamp: string;
  /** Digests of the names that were given by the user, and of all that it is opened with. */
  readonly givenDigest: string;
  readonly namesDigest: string;
  /** Names that were guessed; entries that bear one are marked. */
  readonly guessed: ReadonlySet<string>;
}

/** What became of an archive, or of one within it. */
export interface ArchiveOutcome {
  readonly path: string;
  readonly script: string;
  readonly state: 'open' | 'locked' | 'broken';
  readonly reason: string;
  readonly nextStep: string;
  readonly keyId: number | null;
  /** SHA-256 of the key that opened it, so that a listing can be told to be still right. */
  readonly keyDigest: string;
  readonly keyed: boolean;
  readonly tries: readonly KeyTry[];
  readonly entries: number;
  readonly named: number;
  readonly problems: number;
  readonly fieldsHeld: number;
  /** Whether names may come from lists, and for how many they are still wanting. */
  readonly hashing: boolean;
  readonly unnamed: number;
  /** Nothing in it has any bytes: the index without what it is an index of. */
  readonly isEmptyHanded: boolean;
  /** What the script says that its head tells. */
  readonly tells: readonly (readonly [title: string, value: string])[];
  /** Other files that belong to it. */
  readonly companions: readonly { path: string; size: number; modifiedMs: number }[];
  readonly listing: string;
  readonly size: number;
  /** Number in the archive it lies in; undefined for a file. */
  readonly entry: number | undefined;
  readonly nested: readonly ArchiveOutcome[];
}

/** What a listing file says of how it was made. */
export interface ListingAbout {
  readonly stamp: string;
  readonly givenDigest: string;
  readonly namesDigest: string;
  readonly keysDigest: string;
  readonly outcome: ArchiveOutcome;
}

export const digestOfKey = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
export const digestOfKeys = (keys: readonly TaskKey[]): string =>
  createHash('sha256')
    .update(keys.map(({ bytes, tiedTo }) => `${toHex(bytes)} ${tiedTo}`).join('\n'))
    .digest('hex');

/** Archives within archives are opened down to this depth, and so many of one file. */
const MOST_DEPTH = 3;
const MOST_NESTED = 2000;
/** Larger ones would have to be unpacked whole before anything of them can be seen. */
const MOST_NESTED_BYTES = 256 << 20;
const LEAST_NESTED_BYTES = 16;

export const listingName = (path: string): string =>
  `${createHash('sha1').update(path).digest('hex')}.listing`;

/**
 * Opens an archive without a key, then with each of those it is given, lists what it holds into a file, and does the same
 * with the archives that lie in it.
 */
export function lookInto(task: ArchiveTask, names: Names): ArchiveOutcome {
  try {
    return withPatience(patienceFor(task), () => lookIntoFile(task, names));
  } catch (error) {
    // Whatever is wrong with one, it does not keep the others from being scanned.
    return brokenOutcome(
      task,
      `it could not be read: ${error instanceof Error ? error.message : String(error)}`,
    );
  }
}

/** Milliseconds that looking into something may take: some for anything, and one for each so many bytes. */
const LEAST_MS = 5000;
const LEAST_PIECE_MS = 2000;
const BYTES_A_MS = 1000;

/** Milliseconds that a scan gives a file of a game; one in which decoders do not come to an end is given up some time after. */
export function timeFor({ folder, path }: Pick<ArchiveTask, 'folder' | 'path'>): number {
  const size = fs.statSync(`${folder}/${path}`, { throwIfNoEntry: false })?.size ?? 0;
  return LEAST_MS + size / BYTES_A_MS;
}

const patienceFor = (task: ArchiveTask): Patience => ({
  until: Date.now() + timeFor(task),
  forPiece: (stored) => LEAST_PIECE_MS + stored / BYTES_A_MS,
});

/** What is said of an archive that could not be looked into at all. */
export const brokenOutcome = (
  { path, script, listings }: ArchiveTask,
  reason: string,
  nextStep = 'Put it back, or see to it that it may be read, and scan the folder again.',
): ArchiveOutcome => ({
  path,
  script,
  state: 'broken',
  reason,
  nextStep,
  keyId: null,
  keyDigest: '',
  keyed: false,
  tries: [],
  entries: 0,
  named: 0,
  problems: 0,
  fieldsHeld: 0,
  hashing: false,
  unnamed: 0,
  isEmptyHanded: false,
  tells: [],
  companions: [],
  listing: `${listings}/${listingName(path)}`,
  size: 0,
  entry: undefined,
  nested: [],
});

function lookIntoFile(task: ArchiveTask, names: Names): ArchiveOutcome {
  const file = resolveInside(task.folder, task.path);
  const script = scriptById(task.script);
  if (!script) throw new Error(`the script ${task.script} is gone`);
  const source = openFileSource(file, task.path);
  const companions = companionsOf(file, { nameOf: besides(task.path) });
  try {
    const budget = { left: MOST_NESTED };
    return lookIntoSource(task, { script, id: task.script }, names, budget, {
      path: task.path,
      under: placeOf(script, task.path),
      depth: 0,
      entry: undefined,
      size: source.length,
      open: (options) => openArchive(script, source, { ...options, companion: companions.find }),
    });
  } finally {
    companions.close();
    source.close();
  }
}

interface Place {
  readonly path: string;
  readonly under: string;
  readonly depth: number;
  readonly entry: number | undefined;
  readonly size: number;
  open(options: OpenOptions): Archive;
}

function lookIntoSource(
  task: ArchiveTask,
  { script, id }: { script: Script; id: string },
  names: Names,
  budget: { left: number },
  place: Place,
): ArchiveOutcome {
  const tried = unlock(place, script, task.keys, names);
  const { archive } = tried;
  const listingFile = `${task.listings}/${listingName(place.path)}`;
  const empty = { entries: 0, named: 0, problems: 0, unnamed: 0, isEmptyHanded: false };
  let listing: Listing | undefined;
  let nested: ArchiveOutcome[] = [];
  try {
    if (archive) {
      listing = listArchive(archive, {
        under: place.under,
        rules: kindRules(),
        otherwise: kindsIn(place.path),
        guessed: task.guessed,
      });
      nested = nestedOf(task, archive, listing, names, budget, place);
    }
    const counts = listing ? countsOf(listing, archive!) : empty;
    const outcome: ArchiveOutcome = {
      path: place.path,
      script: id,
      state: tried.state,
      reason: reasonOf(tried.reason, counts.problems),
      nextStep:
        counts.problems > 0
          ? 'Look at the entries marked with a problem; the others are not harmed.'
          : tried.nextStep,
      keyId: tried.key?.id ?? null,
      keyDigest: tried.key ? digestOfKey(tried.key.bytes) : '',
      keyed:
        script.keys.size > 0 &&
        (tried.key !== undefined || tried.state === 'locked' || tried.wantsKey === true),
      tries: tried.tries,
      ...counts,
      fieldsHeld: archive?.fieldsHeld ?? 0,
      hashing: script.entries.some(({ hashing }) => hashing !== undefined),
      tells: archive ? tellsOf(archive) : [],
      companions: archive ? companionFiles(task, archive) : [],
      listing: listingFile,
      size: place.size,
      entry: place.entry,
      nested,
    };
    const about: ListingAbout = {
      stamp: task.stamp,
      givenDigest: task.givenDigest,
      namesDigest: task.namesDigest,
      keysDigest: digestOfKeys(task.keys),
      outcome,
    };
    writeListing(listingFile, listing ?? EMPTY_LISTING(), about);
    return outcome;
  } finally {
    archive?.discard();
  }
}

const EMPTY_LISTING = (): Listing => new ListingBuilder(0).done();

const reasonOf = (reason: string, problems: number): string =>
  problems > 0 ? `${reason}; ${problems} ${problems === 1 ? 'entry has' : 'entries have'} a problem` : reason;

function countsOf(
  { flags, count, stored }: Listing,
  archive: Archive,
): Pick<ArchiveOutcome, 'entries' | 'named' | 'problems' | 'unnamed' | 'isEmptyHanded'> {
  let [named, problems, hashed] = [0, 0, 0];
  for (let row = 0; row < count; row++) {
    if (flags[row]! & FLAG.named) named++;
    else if (flags[row]! & FLAG.hashed) hashed++;
    if (flags[row]! & FLAG.problem) problems++;
  }
  const bytes = stored.reduce((sum, size) => sum + size, 0);
  const room = archive.files.reduce((sum, { space }) => sum + space.source.length, 0);
  // What the table points at is longer than all files together: the payload lies somewhere else, or nowhere.
  return {
    entries: count,
    named,
    problems,
    unnamed: hashed,
    isEmptyHanded: count > 0 && bytes > 0 && problems === count && bytes > room,
  };
}

function companionFiles(task: ArchiveTask, archive: Archive): ArchiveOutcome['companions'] {
  return archive.files.slice(1).flatMap(({ space }) => {
    const stat = fs.statSync(`${task.folder}/${space.source.name}`, { throwIfNoEntry: false });
    return stat?.isFile()
      ? [{ path: space.source.name, size: stat.size, modifiedMs: Math.round(stat.mtimeMs) }]
      : [];
  });
}

/** Where the entries of a file of the folder stand in the tree: at its top, as the game asks for them; a single file under a mask where it lies, and streams of a film below the film. */
function placeOf(script: Script, path: string): string {
  if (script.isForFiles) return path.slice(0, path.lastIndexOf('/') + 1);
  return script.entries.some(({ film }) => film) ? `${path}/` : '';
}

/** Opens the entries that may be archives. */
function nestedOf(
  task: ArchiveTask,
  archive: Archive,
  { kinds, flags, numbers, count }: Listing,
  names: Names,
  budget: { left: number },
  { path, under, depth }: Place,
): ArchiveOutcome[] {
  if (depth >= MOST_DEPTH) return [];
  const found: ArchiveOutcome[] = [];
  for (let row = 0; row < count && budget.left > 0; row++) {
    const isFilm = kinds[row] === FILM;
    if (!(isFilm || kinds[row] === ARCHIVE) || flags[row]! & FLAG.problem) continue;
    const entry = archive.entries[numbers[row]!]!;
    // Most films are no archives, and not unpacked to see that.
    if (isFilm && !beginsAsArchive(archive, entry)) continue;
    if (entry.size < LEAST_NESTED_BYTES || entry.size > MOST_NESTED_BYTES) continue;
    const outcome = lookIntoEntry(task, archive, entry, names, budget, { path, under, depth });
    if (outcome) found.push(outcome);
  }
  return found;
}

const ARCHIVE = codeOfKind('archive');
const FILM = codeOfKind('film');
const MARK_BYTES = 4096;

function beginsAsArchive(archive: Archive, entry: Entry): boolean {
  try {
    const first = windowOf(archive.plain(entry), 0, MARK_BYTES);
    return archiveScriptFor(memorySource(first, entry.path)) !== undefined;
  } catch (error) {
    // An entry that cannot be unpacked says so when it is looked at.
    if (error instanceof FormatError) return false;
    throw error;
  }
}

/** What bears the ending of the archive it lies in is taken for one too, where nothing else tells. */
function kindsIn(path: string): (path: string) => Kind {
  const ending = /\.[^./]+$/.exec(path)?.[0].toLowerCase();
  return (inner) => (ending && inner.toLowerCase().endsWith(ending) ? 'archive' : 'data');
}

function lookIntoEntry(
  task: ArchiveTask,
  archive: Archive,
  entry: Entry,
  names: Names,
  budget: { left: number },
  { path, under, depth }: Pick<Place, 'path' | 'under' | 'depth'>,
): ArchiveOutcome | undefined {
  let opened: ReturnType<typeof entrySource> | undefined;
  try {
    opened = entrySource(archive, entry);
    const { source } = opened;
    const shelved = archiveScriptFor(source);
    if (!shelved) return undefined;
    budget.left--;
    return lookIntoSource(task, shelved, names, budget, {
      path: `${path}//${entry.path}`,
      under: `${under}${entry.path}/`,
      depth: depth + 1,
      entry: entry.index,
      size: entry.size,
      open: (options) => openArchive(shelved.script, source, options),
    });
  } catch (error) {
    // An entry that cannot be unpacked says so when it is looked at.
    if (error instanceof FormatError) return undefined;
    throw error;
  } finally {
    opened?.discard();
  }
}
