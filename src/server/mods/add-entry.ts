import { createHash } from 'node:crypto';
import { pathProblem } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { under, worst, type Finding, type FitShown, type Mend, type Policy } from '@/core/fit';
import { START_BYTES, tellKind, type Kind } from '@/core/kinds';
import { editEntries, likeliest } from '@/core/mod';
import { ArchiveRow, ChangeRow, NameListRow } from '@/db';
import { findEntry } from '../entries/catalogue';
import { modRow, type Given } from './mods';
import { openOriginal } from '../installing/open-original';
import { archiveRow, type OpenedEntry } from '../opening/opened';
import { wholeEntry } from '../looking/preview';
import { kindRules } from '../opening/scripts';
import { keepBlob, readBlob } from '../storage/storage';
import { notFound, UserError } from '@/platform/user-error';
import { changeSlot } from './change-slot';
import { asStep } from './history';
import { prepare } from './prepare';
import { foundInChange } from './wording';

/** Where an entry is to be added. */
export interface NewSlot {
  readonly archiveId: number;
  readonly path: string;
  /** Number of the entry that it is stored like; the likeliest one where nothing is said. */
  readonly like?: number | undefined;
}

/** The number that stands for an added path in place of an entry's: below 0, and the same in every mod. */
export const numberOfAdded = (path: string): number =>
  -1 - (createHash('sha256').update(path.toLowerCase()).digest().readUInt32BE(0) >>> 1);

/** An entry that a new one may be stored like. */
export interface LikeView {
  readonly index: number;
  readonly path: string;
}

/** The entries of an archive that one of a path may be stored like, the likeliest first. */
export async function likesFor(gameId: number, archiveId: number, path: string): Promise<LikeView[]> {
  const { archive, close } = await openOriginal(gameId, await archiveRow(gameId, archiveId));
  try {
    return likeliest(archive.entries, path)
      .slice(0, 12)
      .map(({ index, path: own }) => ({ index, path: own }));
  } finally {
    close();
  }
}

/**
 * Adds an entry to an archive, or gives an added one something else. The archive is edited in memory to see whether its script can
 * say such a name. A picture that is none of the game's own format is made like the entry that the new one is stored like.
 */
export async function addEntry(
  gameId: number,
  modId: number,
  slot: NewSlot,
  given: Given,
  mends: readonly Mend[] = [],
): Promise<FitShown> {
  const { policy } = await modRow(gameId, modId);
  const problem = pathProblem(slot.path);
  if (problem) throw new UserError(422, `${slot.path} is no path for an entry: ${problem}.`);
  const row = await archiveRow(gameId, slot.archiveId);
  const { model, named } = await tryOut(gameId, row, slot);
  const entryIndex = numberOfAdded(slot.path);
  const slotOfChange = { archivePath: row.path, entryIndex };
  const before = await ChangeRow.findOne({ where: { modId, ...slotOfChange } });
  const start = model.bytes ?? readBlob(given.blob);
  const told = { bytes: start.subarray(0, START_BYTES), length: start.length };
  const { kind } = tellKind(slot.path, told, kindRules());
  const { bytes, findings } = await made(slot, model, kind, given, mends);
  const fit = worst(findings);
  await asStep(modId, `adding ${slot.path}`, [slotOfChange], async () => {
    await ChangeRow.upsert(
      {
        modId,
        ...slotOfChange,
        action: 'add',
        likeIndex: slot.like ?? null,
        path: slot.path,
        kind,
        givenName: given.name,
        givenBlob: given.blob,
        givenSize: given.size,
        preparedBlob: bytes ? keepBlob(bytes) : null,
        preparedSize: bytes?.length ?? null,
        originalSize: 0,
        mends: [...mends],
        findings,
        fit,
        note: before?.note ?? '',
      },
      { conflictFields: ['mod_id', 'archive_path', 'entry_index'] as never },
    );
  });
  if (!named) await rememberName(gameId, slot.path);
  return under(policy as Policy, fit);
}

/** Edits the archive in memory, so that what cannot be said is said now and not when it is built. */
async function tryOut(
  gameId: number,
  row: ArchiveRow,
  { path, like }: NewSlot,
): Promise<{ model: Model; named: boolean }> {
  const { archive, close } = await openOriginal(gameId, row);
  try {
    const entry = like === undefined ? likeliest(archive.entries, path)[0] : archive.entries[like];
    if (!entry) throw new UserError(409, `${row.path} has no entry that a new one could be stored like.`);
    // Before it is edited, which moves the others.
    const bytes = endingOf(entry.path) === endingOf(path) ? wholeEntry({ archive, entry }) : undefined;
    const model = { path: entry.path, bytes };
    const edited = editEntries(archive, { added: [{ path, like }] });
    return { model, named: edited.archive.entries[edited.added[0]!]!.named };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(409, `${path} cannot be added to ${row.path}: ${error.message}`);
  } finally {
    close();
  }
}

const endingOf = (name: string): string => /\.[^./]*$/.exec(name)?.[0].toLowerCase() ?? '';

/** The entry that a new one is stored like; its bytes where the new one is of its kind. */
interface Model {
  readonly path: string;
  readonly bytes: Uint8Array | undefined;
}

async function made(
  { path }: NewSlot,
  { path: model, bytes: slot }: Model,
  kind: string,
  given: Given,
  mends: readonly Mend[],
): Promise<{ bytes: Uint8Array | undefined; findings: readonly Finding[] }> {
  const bytes = readBlob(given.blob);
  if (slot === undefined || endingOf(given.name) === endingOf(path))
    return {
      bytes,
      findings: [foundInChange('fits', 'added', { bytes: bytes.length, like: model })],
    };
  const { bytes: ready, findings } = await prepare(slot, path, kind, bytes, given.name, new Set(mends));
  const how = foundInChange('fits', 'made-like', { like: model });
  return { bytes: ready, findings: [...findings, how] };
}

/** Archives that keep hashes only do not say the name, so it is noted here. */
async function rememberName(gameId: number, path: string): Promise<void> {
  const list = { gameId, title: 'Added by mods', origin: 'loaded' as const };
  const row = await NameListRow.findOne({ where: list });
  const names = new Set(row?.names.split('\n') ?? []);
  if (names.has(path)) return;
  names.add(path);
  const joined = [...names].sort().join('\n');
  if (row) await row.update({ names: joined });
  else await NameListRow.create({ ...list, names: joined });
}

/** Takes an entry out of its archive. What a mod did with it before is forgotten, and comes back by undoing. */
export async function removeEntry(opened: OpenedEntry, modId: number): Promise<void> {
  const { gameId, row, entry: own } = opened;
  await modRow(gameId, modId);
  if (row.sort !== 'file')
    throw new UserError(
      409,
      row.sort === 'loose'
        ? `${own.path} is a file of the game folder, which is replaced but not taken out.`
        : `${own.path} lies in an archive within another one, out of which nothing is taken here. Replace it instead.`,
    );
  const slotOfChange = await changeSlot(opened);
  const { archive, close } = await openOriginal(gameId, row);
  let shown: { path: string; size: number; kind: Kind };
  try {
    const entry = archive.entries[slotOfChange.entryIndex];
    if (!entry) throw notFound('The entry');
    const record = await findEntry(gameId, row.id, opened.entry.index);
    shown = { path: record?.path ?? entry.path, size: entry.size, kind: record?.kind ?? 'data' };
    editEntries(archive, { removed: new Set([slotOfChange.entryIndex]) });
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(409, `It cannot be taken out of ${row.path}: ${error.message}`);
  } finally {
    close();
  }
  const finding = foundInChange('fits', 'taken-out', {});
  await asStep(modId, `taking ${shown.path} out of its archive`, [slotOfChange], async () => {
    await ChangeRow.upsert(
      {
        modId,
        ...slotOfChange,
        action: 'remove',
        likeIndex: null,
        path: shown.path,
        kind: shown.kind,
        givenName: '',
        givenBlob: '',
        givenSize: 0,
        preparedBlob: null,
        preparedSize: 0,
        originalSize: shown.size,
        mends: [],
        findings: [finding],
        fit: 'fits',
        note: '',
      },
      { conflictFields: ['mod_id', 'archive_path', 'entry_index'] as never },
    );
  });
}
