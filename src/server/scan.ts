import fs from 'node:fs';
import path from 'node:path';
import {
  kindOfPath,
  openArchive,
  NameList,
  type Names,
  typeOfEntry,
  type Archive,
  type OpenOptions,
} from '@/core/archive';
import { FormatError, toHex } from '@/core/bytes';
import type { ShelvedScript } from '@/platform/node/script-shelf';
import {
  ArchiveRow,
  GameRow,
  KeyRow,
  models,
  NameListRow,
  replaceEntries,
  settleWinners,
  type ArchiveState,
} from '@/db';
import { companionsOf, type Companions } from '@/platform/node/companions';
import { openFileSource, type FileSource } from '@/platform/node/file-source';
import { nodePrimitives } from '@/platform/node/primitives';
import { presentGame } from './games';
import type { JobContext } from './job-context';
import { besides, keysWith } from './opened';
import { archiveScriptFor, refreshShelf } from './scripts';

/** More files than any game folder has; a drive chosen by mistake stops here. */
const MOST_FILES = 300_000;

interface Found {
  readonly path: string;
  readonly size: number;
  readonly modifiedMs: number;
  readonly shelved: ShelvedScript;
  readonly source: FileSource;
  readonly companions: Companions;
  state: ArchiveState;
  reason: string;
  nextStep: string;
  keyId: number | null;
  archive: Archive | undefined;
}

/** Files of a folder with their relative paths; links are not followed, so that nothing outside is read. */
export function* filesBelow(folder: string): Generator<string> {
  const open = [''];
  let seen = 0;
  while (open.length > 0) {
    const inner = open.pop()!;
    for (const item of fs.readdirSync(path.join(folder, inner), { withFileTypes: true })) {
      const relative = inner ? `${inner}/${item.name}` : item.name;
      if (item.name.startsWith('.')) continue;
      if (item.isDirectory()) open.push(relative);
      else if (item.isFile()) {
        if (++seen > MOST_FILES)
          throw new Error(`More than ${MOST_FILES} files; choose the folder of one game.`);
        yield relative;
      }
    }
  }
}

function recognise(folder: string, job: JobContext): Found[] {
  const found: Found[] = [];
  const files = [...filesBelow(folder)].sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  files.forEach((relative, i) => {
    job.progress(i, files.length, 'items', relative);
    const file = path.join(folder, relative);
    const source = openFileSource(file, relative);
    const shelved = source.length > 0 ? archiveScriptFor(source) : undefined;
    if (!shelved) return source.close();
    const stat = fs.fstatSync(source.fd);
    found.push({
      path: relative,
      size: source.length,
      modifiedMs: Math.round(stat.mtimeMs),
      shelved,
      source,
      companions: companionsOf(file, { nameOf: besides(relative) }),
      state: 'locked',
      reason: '',
      nextStep: '',
      keyId: null,
      archive: undefined,
    });
  });
  return found;
}

/** Tries to open without a key, then with each key of the keyring, and says how far it got. */
function unlock(found: Found, keys: readonly KeyRow[], names: Names): void {
  const { script } = found.shelved;
  const attempt = (bytes: Uint8Array | undefined): FormatError | undefined => {
    const options: OpenOptions = {
      primitives: nodePrimitives,
      keys: keysWith(script, bytes),
      names,
      companion: found.companions.find,
    };
    try {
      found.archive = openArchive(script, found.source, options);
      return undefined;
    } catch (error) {
      if (error instanceof FormatError) return error;
      throw error;
    }
  };
  const open = (reason: string, keyId: number | null): void => {
    const broken = found.archive!.entries.filter(({ problem }) => problem).length;
    Object.assign(found, {
      state: 'open',
      keyId,
      reason: broken > 0 ? `${reason}; ${broken} entries have a problem` : reason,
      nextStep: broken > 0 ? 'Look at the entries marked with a problem; the others are not harmed.' : '',
    });
  };
  const bare = attempt(undefined);
  if (!bare) return open('no key needed', null);
  if (bare.code !== 'key-missing') return fail(found, bare);
  let last = bare;
  for (const key of keys) {
    const error = attempt(new Uint8Array(key.bytes));
    if (!error) return open(`${key.label} opens it`, key.id);
    if (error.code !== 'key-wrong' && error.code !== 'bad-value') return fail(found, error);
    last = error;
  }
  const tried = keys.length;
  const { fieldPath, byteOffset } = last.facts;
  found.reason =
    tried === 0
      ? `the head is readable, so the script is right; a key is needed from byte ${byteOffset ?? 0} on`
      : `${tried} ${tried === 1 ? 'key' : 'keys'} tried: ${fieldPath ?? 'the index'} does not hold at byte ${byteOffset ?? 0}`;
  found.nextStep =
    tried === 0
      ? 'Add its key, or find it in the program of the game.'
      : 'Add another key, or find it in the program of the game.';
}

function fail(found: Found, error: FormatError): void {
  Object.assign(found, {
    state: 'broken',
    reason: error.message,
    nextStep:
      error.code === 'part-missing'
        ? 'Put the missing file beside it and scan the folder again.'
        : 'Get this file anew from the game, or try another script. The other archives are not harmed.',
  });
}

function entryRecords(archive: Archive): Parameters<typeof replaceEntries>[2] {
  return archive.entries.map((entry) => {
    const type = entry.named ? undefined : typeOfEntry(archive, entry);
    return {
      index: entry.index,
      path: type ? `${entry.path}.${type.ending}` : entry.path,
      named: entry.named,
      hash: entry.hash ?? null,
      place: entry.offset,
      storedSize: entry.storedSize,
      size: entry.size,
      kind: type?.kind ?? kindOfPath(entry.path),
      problem: entry.problem?.message ?? null,
    };
  });
}

/** Looks through a game folder: which files are archives, which keys open them, what is in them. */
export async function scanGame(
  gameId: number,
  job: JobContext,
): Promise<{ archives: number; open: number; entries: number }> {
  const game = await presentGame(gameId);
  refreshShelf();
  const keys = await KeyRow.findAll({ where: { gameId }, order: [['id', 'ASC']] });
  const lists = await NameListRow.findAll({ where: { gameId } });
  // One list for all archives, so that its hashes are worked out once.
  const given = NameList.parse(lists.map((list) => list.names).join('\n'));
  const names = new Set(given);
  const found = recognise(game.folder, job);
  try {
    for (const one of found) {
      job.progress(0, found.length, 'items', `opening ${one.path}`);
      unlock(one, keys, given);
      for (const entry of one.archive?.entries ?? []) if (entry.named) names.add(entry.path);
    }
    // Names of one archive are names in all: those that keep only hashes are looked at again with all of them.
    const all = [...names];
    for (const one of found) if (one.archive?.entries.some(({ named }) => !named)) unlock(one, keys, all);
    return await save(gameId, found, job);
  } finally {
    for (const { source, companions, archive } of found) {
      archive?.discard();
      companions.close();
      source.close();
    }
  }
}

async function save(
  gameId: number,
  found: readonly Found[],
  job: JobContext,
): Promise<{ archives: number; open: number; entries: number }> {
  const sequelize = models();
  let entries = 0;
  await sequelize.transaction(async (transaction) => {
    const known = new Map(
      (await ArchiveRow.findAll({ where: { gameId }, transaction })).map((row) => [row.path, row]),
    );
    for (const [rank, one] of found.entries()) {
      job.progress(rank, found.length, 'items', `listing ${one.path}`);
      const { archive } = one;
      const facts = {
        gameId,
        path: one.path,
        size: one.size,
        modifiedMs: one.modifiedMs,
        script: one.shelved.id,
        state: one.state,
        reason: one.reason,
        nextStep: one.nextStep,
        keyId: one.keyId,
        keyed: one.shelved.script.keys.size > 0 && (one.keyId !== null || one.state === 'locked'),
        entryCount: archive?.entries.length ?? 0,
        namedCount: archive?.entries.filter(({ named }) => named).length ?? 0,
        fieldsHeld: archive?.fieldsHeld ?? 0,
      };
      const old = known.get(one.path);
      known.delete(one.path);
      const row = old
        ? await old.update(facts, { transaction })
        : await ArchiveRow.create({ ...facts, rank: 10 * (rank + 1) }, { transaction });
      const records = archive ? entryRecords(archive) : [];
      entries += records.length;
      await replaceEntries(gameId, row.id, records, transaction);
    }
    for (const gone of known.values()) await gone.destroy({ transaction });
    await settleWinners(gameId, transaction);
    await GameRow.update({ scannedAt: new Date() }, { where: { id: gameId }, transaction });
  });
  return { archives: found.length, open: found.filter(({ state }) => state === 'open').length, entries };
}

/** A key as it is shown: enough to tell it from others, not enough to use it. */
export const maskedKey = (bytes: Uint8Array): string =>
  `${toHex(bytes.subarray(0, 2))}…${toHex(bytes.subarray(-2))}, ${bytes.length} bytes`;
