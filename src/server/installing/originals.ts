import fs from 'node:fs';
import path from 'node:path';
import { listedHash, readListing, type Listing } from '@/core/mod';
import { GameRow, InstallationRow, models } from '@/db';
import { modsThatMade, noteFirstHash, originalChoiceRows, setOriginalChoice } from '@/db/choices';
import { resolveInside } from '@/platform/node/inside';
import { presentGame } from '../games/games';
import { hashBeside } from '../building/hash-beside';
import { activeInstallation, places, type InstalledFile } from './installations';
import { keepOriginal, originalFile } from './placing';
import { knownHash } from '../building/known-hash';
import { ASIDE_ENDINGS } from '../scan/kept-aside';
import { UserError } from '@/platform/user-error';

/** A file that could count as the original in place of the one in the folder. */
export interface OtherOriginal {
  readonly sha256: string;
  readonly what: string;
}

/** Why a file may not be what the game came with, and what could be taken for it. */
export interface Questioned {
  readonly path: string;
  readonly sha256: string;
  readonly doubts: readonly string[];
  readonly others: readonly OtherOriginal[];
}

/** What the user has said of a file: what was found in the folder then, and what counts as its original. */
export interface OriginalChoice {
  readonly path: string;
  readonly found: string;
  readonly original: string;
}

interface FirstSeen {
  readonly size: number;
  readonly modifiedMs: number;
  readonly sha256?: string;
}

export async function originalChoices(gameId: number): Promise<Map<string, OriginalChoice>> {
  const rows = await originalChoiceRows(gameId);
  return new Map(rows.map((row) => [row.path, row]));
}

/** Looks at files that are to be overwritten, with the hash of what lies in the folder; those without a doubt are left out. */
export async function questionOriginals(
  gameId: number,
  files: readonly { readonly path: string; readonly sha256: string }[],
): Promise<Questioned[]> {
  const game = await presentGame(gameId);
  const row = (await GameRow.findByPk(gameId))!;
  const first = (row.findings as { first?: Record<string, FirstSeen> }).first ?? {};
  const { listing } = readListing(row.listing);
  const choices = await originalChoices(gameId);
  const own = new Set((await activeInstallation(gameId))?.files.map((file) => file.path));
  const questioned: Questioned[] = [];
  for (const { path: name, sha256 } of files) {
    // What is installed from here has its original already.
    if (own.has(name) || choices.get(name)?.found === sha256) continue;
    const file = resolveInside(game.folder, name);
    const beside = leftBeside(file);
    const listed = ofListing(listing, name, sha256);
    if (listed === 'same') continue;
    const doubts = [
      ...(listed ? [listed] : []),
      ...(await madeHere(sha256)),
      ...sinceFirst(file, sha256, first[name]),
      ...beside.map((other) => `${path.basename(other)} lies beside it, as tools leave it that overwrite`),
    ];
    if (doubts.length === 0) continue;
    const others = [...(await keptBefore(gameId, name)), ...(await Promise.all(beside.map(asOther))).flat()];
    questioned.push({
      path: name,
      sha256,
      doubts,
      others: others.filter((other, i) => other.sha256 !== sha256 && isFirst(others, other, i)),
    });
  }
  return questioned;
}

const isFirst = (all: readonly OtherOriginal[], one: OtherOriginal, at: number): boolean =>
  all.findIndex(({ sha256 }) => sha256 === one.sha256) === at;

function ofListing(listing: Listing, name: string, sha256: string): string | undefined {
  const listed = listedHash(listing, name);
  if (listed === undefined) return undefined;
  return listed === sha256
    ? 'same'
    : `The list of originals says SHA-256 ${listed.slice(0, 12)}, and it has ${sha256.slice(0, 12)}`;
}

/** Whether a build of any game made just these bytes out of others. */
async function madeHere(sha256: string): Promise<string[]> {
  const mods = await modsThatMade(sha256);
  if (!mods) return [];
  const titles = mods.join(' and ');
  return [`It is what a build here made${titles ? ` for ${titles}` : ''}, not what the game came with`];
}

function sinceFirst(file: string, sha256: string, was: FirstSeen | undefined): string[] {
  const now = fs.statSync(file, { throwIfNoEntry: false });
  if (!was || !now) return [];
  if (was.sha256 === sha256) return [];
  if (was.size !== now.size)
    return [
      `It had ${was.size.toLocaleString('en')} bytes when it was first seen and has ${now.size.toLocaleString('en')} now: an update or another tool changed it`,
    ];
  if (was.sha256 !== undefined || Math.abs(was.modifiedMs - now.mtimeMs) > 1)
    return ['It was written anew since it was first seen: by an update or another tool'];
  return [];
}

const leftBeside = (file: string): string[] =>
  ASIDE_ENDINGS.map((ending) => `${file}${ending}`).filter((other) =>
    fs.statSync(other, { throwIfNoEntry: false })?.isFile(),
  );

async function asOther(file: string): Promise<OtherOriginal[]> {
  const sha256 = await knownHash(file);
  return sha256 === undefined ? [] : [{ sha256, what: path.basename(file) }];
}

/** Originals of this file that earlier installations kept, the newest first. */
async function keptBefore(gameId: number, name: string): Promise<OtherOriginal[]> {
  const rows = await InstallationRow.findAll({ where: { gameId }, order: [['id', 'DESC']] });
  const seen = new Set<string>();
  const found: OtherOriginal[] = [];
  for (const { title, createdAt, files } of rows) {
    const before = (files as InstalledFile[]).find((file) => file.path === name)?.before;
    if (!before || seen.has(before)) continue;
    seen.add(before);
    if ((await knownHash(originalFile(places().originals, before))) === before)
      found.push({ sha256: before, what: `kept on ${createdAt.toISOString().slice(0, 10)} before ${title}` });
  }
  return found;
}

/** Says what counts as the original of a file: what lies in the folder, or one of the others. */
export async function chooseOriginal(gameId: number, name: string, original: string): Promise<void> {
  const game = await presentGame(gameId);
  const file = resolveInside(game.folder, name);
  const found = await hashBeside(file);
  if (found === undefined) throw new UserError(404, `${name} is not there. Scan the folder and look again.`);
  if (original !== found) {
    const beside = await Promise.all(
      leftBeside(file).map(async (one) => [one, await knownHash(one)] as const),
    );
    const other = beside.find(([, sha256]) => sha256 === original)?.[0];
    if (other) keepOriginal(places().originals, other, original);
    else if ((await hashBeside(originalFile(places().originals, original))) !== original)
      throw new UserError(409, `No file with SHA-256 ${original.slice(0, 12)} was kept. Choose another one.`);
  }
  await setOriginalChoice(gameId, { path: name, found, original });
}

/** Notes the hashes of files that are still just what the first scan saw, so that later only their bytes count. */
export async function noteFirstHashes(
  gameId: number,
  files: readonly { readonly path: string; readonly sha256: string }[],
): Promise<void> {
  const game = await presentGame(gameId);
  for (const { path: name, sha256 } of files) {
    const stat = fs.statSync(resolveInside(game.folder, name), { throwIfNoEntry: false });
    if (!stat) continue;
    await noteFirstHash(gameId, { path: name, sha256, size: stat.size, modifiedMs: stat.mtimeMs });
  }
}

/** What the user noted of a game. */
export interface KnownOfGame {
  /** What its makers say about changing it. */
  readonly terms: string;
  /** SHA-256 sums of its originals. */
  readonly listing: string;
  readonly looseFolder: string;
}

export async function knownOf(gameId: number): Promise<KnownOfGame> {
  models();
  const row = await GameRow.findByPk(gameId, { attributes: ['terms', 'listing', 'looseFolder'] });
  const { terms = '', listing = '', looseFolder = '' } = row ?? {};
  return { terms, listing, looseFolder };
}

export async function noteKnown(
  gameId: number,
  known: { [K in keyof KnownOfGame]?: string | undefined },
): Promise<void> {
  const game = await presentGame(gameId);
  const looseFolder = known.looseFolder?.trim().replaceAll('\\', '/').replace(/\/+$/, '');
  if (looseFolder) resolveInside(game.folder, looseFolder);
  if (known.listing !== undefined) {
    const { listing, wrong } = readListing(known.listing);
    if (wrong.length > 0)
      throw new UserError(
        422,
        `Line ${wrong[0]} is no SHA-256 with a path behind it${wrong.length > 1 ? `, nor are ${wrong.length - 1} others` : ''}. Give one file a line, as sha256sum writes them.`,
      );
    if (known.listing.trim() !== '' && listing.size === 0)
      throw new UserError(
        422,
        'The list has no lines with sums. Give one file a line, as sha256sum writes them.',
      );
  }
  await GameRow.update(
    {
      ...(known.terms !== undefined && { terms: known.terms }),
      ...(known.listing !== undefined && { listing: known.listing }),
      ...(looseFolder !== undefined && { looseFolder }),
    },
    { where: { id: gameId } },
  );
}
