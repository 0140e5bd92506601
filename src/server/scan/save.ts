import { createHash } from 'node:crypto';
import fs from 'node:fs';
import { FLAG, ListingBuilder, mergeListings, MOST_ARCHIVES, type Listing } from '@/core/catalogue';
import { ArchiveRow, GameRow, InstallationRow, models } from '@/db';
import {
  readCatalogueAbout,
  readListing,
  readListingAbout,
  writeCatalogue,
  writeListing,
} from '@/platform/node/catalogue-files';
import type { JobContext } from '../running/job-context';
import { changedNotes, type Findings, type FirstSeen } from './findings';
import type { FolderFile, FolderWalk } from './folder-files';
import { scriptById } from '../opening/scripts';
import { withNested } from './known-names';
import type { ArchiveOutcome } from './look-into';

/** The path of the archive that stands for the files of the folder themselves. */
export const LOOSE = '.';

export interface ScanResult {
  readonly archives: number;
  readonly open: number;
  readonly entries: number;
}

/** What an archive's row keeps besides its columns. */
export interface ArchiveFacts {
  readonly tries?: ArchiveOutcome['tries'];
  readonly companions?: ArchiveOutcome['companions'];
  readonly unnamed?: number;
  readonly problems?: number;
  readonly isEmptyHanded?: boolean;
  readonly tells?: ArchiveOutcome['tells'];
}

/** What a catalogue file says of itself: its archives by number, and what they were listed from. */
export interface CatalogueAbout {
  readonly archives: readonly number[];
  readonly parts: readonly string[];
}

export const catalogueFile = (listings: string): string => `${listings}/game.catalogue`;
const looseFile = (listings: string): string => `${listings}/loose.listing`;

interface Found {
  readonly walk: FolderWalk;
  readonly found: readonly ArchiveOutcome[];
  readonly findings: Findings;
  readonly listings: string;
}

/** Keeps what a scan found: rows for archives, and one catalogue of all that the open ones hold. */
export async function saveScan(
  gameId: number,
  { walk, found, findings, listings }: Found,
  job: JobContext,
): Promise<ScanResult> {
  const all = [...withNested(found)];
  if (all.length >= MOST_ARCHIVES) throw new Error(`More than ${MOST_ARCHIVES} archives in one game.`);
  const companions = new Set(all.flatMap(({ companions: files }) => files.map(({ path }) => path)));
  // What is under a mask that no key lifts yet is still a file of the folder.
  const closed = new Set(
    found
      .filter(({ state, script }) => state !== 'open' && scriptById(script)?.isForFiles)
      .map(({ path }) => path),
  );
  const loose = walk.files.filter(
    ({ script, path }) => (script === undefined || closed.has(path)) && !companions.has(path),
  );
  const modified = new Map(walk.files.map(({ path, modifiedMs }) => [path, modifiedMs]));
  const rows: { row: ArchiveRow; listing: string }[] = [];
  await models().transaction(async (transaction) => {
    const known = new Map(
      (await ArchiveRow.findAll({ where: { gameId }, transaction })).map((row) => [row.path, row]),
    );
    const keep = async (outcome: ArchiveOutcome, rank: number, parentId: number | null): Promise<void> => {
      const facts = { ...factsOf(outcome, modified.get(outcome.path) ?? 0), gameId, parentId };
      const old = known.get(outcome.path);
      known.delete(outcome.path);
      const row = old
        ? await old.update(facts, { transaction })
        : await ArchiveRow.create({ ...facts, rank }, { transaction });
      if (outcome.state === 'open') rows.push({ row, listing: outcome.listing });
      for (const inner of outcome.nested) await keep(inner, row.rank, row.id);
    };
    const looseRow = known.get(LOOSE);
    known.delete(LOOSE);
    const facts = looseFacts(gameId, loose);
    const row = looseRow
      ? await looseRow.update(facts, { transaction })
      : await ArchiveRow.create({ ...facts, rank: 1 }, { transaction });
    writeLoose(looseFile(listings), loose);
    rows.push({ row, listing: looseFile(listings) });
    for (const [i, outcome] of found.entries()) {
      job.progress(i, found.length, 'items', `keeping ${outcome.path}`);
      await keep(outcome, 10 * (i + 1), null);
    }
    for (const gone of known.values()) await gone.destroy({ transaction });
    const game = await GameRow.findByPk(gameId, { transaction });
    const before = (game?.findings ?? {}) as { first?: Record<string, FirstSeen> };
    const first = { ...before.first };
    const installed = await installedPaths(gameId);
    for (const { path, size, modifiedMs } of walk.files.slice(0, MOST_REMEMBERED))
      if (!installed.has(path)) first[path] ??= { size, modifiedMs };
    const last = Object.fromEntries(
      walk.files.slice(0, MOST_REMEMBERED).map(({ path, size, modifiedMs }) => [path, { size, modifiedMs }]),
    );
    const notes = [...findings.notes, ...changedNotes(walk.files, first, installed)];
    await GameRow.update(
      { scannedAt: new Date(), findings: { ...findings, notes, first, last } as object },
      { where: { id: gameId }, transaction },
    );
  });
  job.progress(0, 1, 'items', 'putting everything in order');
  const entries = writeMerged(listings, rows);
  removeOldListings(
    listings,
    new Set([...all.map(({ listing }) => listing), looseFile(listings), catalogueFile(listings)]),
  );
  return { archives: all.length, open: all.filter(({ state }) => state === 'open').length, entries };
}

/** Files whose state is kept, so that a change of the folder is noticed between scans. */
const MOST_REMEMBERED = 2000;

/** Files that a mod of ours lies over; installing and restoring changes them, and that is known. */
async function installedPaths(gameId: number): Promise<Set<string>> {
  const rows = await InstallationRow.findAll({ where: { gameId } });
  return new Set(
    rows.flatMap(({ files }) => (files as { path?: string }[]).flatMap(({ path }) => path ?? [])),
  );
}

function factsOf(outcome: ArchiveOutcome, modifiedMs: number) {
  const { tries, companions, unnamed, problems, isEmptyHanded, tells } = outcome;
  const facts: ArchiveFacts = { tries, companions, unnamed, problems, isEmptyHanded, tells };
  return {
    path: outcome.path,
    size: outcome.size,
    modifiedMs,
    script: outcome.script,
    state: outcome.state,
    reason: outcome.reason,
    nextStep: outcome.nextStep,
    keyId: outcome.keyId,
    keyed: outcome.keyed,
    entryCount: outcome.entries,
    namedCount: outcome.named,
    fieldsHeld: outcome.fieldsHeld,
    sort: outcome.entry === undefined ? ('file' as const) : ('nested' as const),
    parentEntry: outcome.entry ?? null,
    facts,
  };
}

const looseFacts = (gameId: number, files: readonly FolderFile[]) => ({
  gameId,
  path: LOOSE,
  size: files.reduce((sum, { size }) => sum + size, 0),
  modifiedMs: 0,
  script: null,
  state: 'open' as const,
  reason: 'files that are in no archive',
  nextStep: '',
  keyId: null,
  keyed: false,
  entryCount: files.length,
  namedCount: files.length,
  fieldsHeld: 0,
  sort: 'loose' as const,
  facts: {},
});

/** The file stays as it is where the files are as they were, so that the catalogue need not be made anew. */
function writeLoose(file: string, loose: readonly FolderFile[]): void {
  const digest = createHash('sha1').update(JSON.stringify(loose)).digest('hex');
  if ((readListingAbout(file) as { digest?: string } | undefined)?.digest !== digest)
    writeListing(file, looseListing(loose), { digest });
}

function looseListing(files: readonly FolderFile[]): Listing {
  const builder = new ListingBuilder(files.length);
  for (const { path, size, modifiedMs, unreadable, kind, isScripted } of files)
    builder.add({
      path,
      size,
      stored: size,
      modified: modifiedMs / 1000,
      kind,
      flags: FLAG.named | (isScripted ? FLAG.scripted : 0),
      hash: undefined,
      problem: unreadable,
    });
  return builder.done();
}

/** Merges the listings into the catalogue, unless it was made from the same ones. Gives how many entries it has. */
function writeMerged(listings: string, rows: readonly { row: ArchiveRow; listing: string }[]): number {
  const file = catalogueFile(listings);
  const about: CatalogueAbout = {
    archives: rows.map(({ row }) => row.id),
    parts: rows.map(({ listing }) => {
      const { ino, size, mtimeMs } = fs.statSync(listing);
      return `${ino} ${size} ${mtimeMs}`;
    }),
  };
  const entries = rows.reduce((sum, { row }) => sum + row.entryCount, 0);
  const before = readCatalogueAbout(file);
  if (before && JSON.stringify(before) === JSON.stringify(about)) return entries;
  const read = rows.map(({ listing }) => readListing(listing));
  writeCatalogue(file, mergeListings(read), about);
  return entries;
}

function removeOldListings(listings: string, wanted: ReadonlySet<string>): void {
  for (const name of fs.readdirSync(listings))
    if (name.endsWith('.listing') && !wanted.has(`${listings}/${name}`))
      fs.rmSync(`${listings}/${name}`, { force: true });
}
