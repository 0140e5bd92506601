import {
  under,
  worst,
  type Finding,
  type FitShown,
  type FitState,
  type Mend,
  type Policy,
  type WordedFinding,
} from '@/core/fit';
import { ArchiveRow, ChangeRow, ModRow, models } from '@/db';
import { findEntry, findStack } from '../entries/catalogue';
import type { Entry } from '@/core/archive';
import { codecAsked } from '@/media/sound/node/recoded';
import { besideEntry, describedIn, likeBytes, readInWay, withBeside } from '@/platform/node/media-scripts';
import type { OpenedEntry } from '../opening/opened';
import { openedOriginal } from '../installing/open-original';
import { wayRead } from '../looking/sounds';
import { changeSlot, numberNow, renumberedArchives } from './change-slot';
import { entryOfSlot, originalEntry } from './original-entry';
import { asStep } from './history';
import { prepare } from './prepare';
import { slotUnder } from './recoded-slot';
import { innerFinding } from './inner-archive';
import { flowFound, streamFinding } from './stream-fit';
import { leftFinding, leftSheets, leftTakes, slotOf, type LeftSheet } from './related';
import { keepBlob, readBlob } from '../storage/storage';
import { foundInChange, said } from './wording';
import { notFound, UserError } from '@/platform/user-error';

export interface ModView {
  readonly id: number;
  readonly gameId: number;
  readonly title: string;
  readonly policy: Policy;
  readonly workFolder: string | null;
  /** Whether it is built along with others. */
  readonly together: boolean;
  readonly changes: number;
  readonly notFitting: number;
}

export type ChangeAction = 'replace' | 'add' | 'remove';

export interface ChangeView {
  readonly id: number;
  readonly path: string;
  readonly archive: string;
  readonly archiveId: number | null;
  /** Number of its entry in the folder as it is now; -1 where it is not there. */
  readonly index: number;
  /** `add` for an entry that the archive does not have yet, `remove` for one that is taken out of it. */
  readonly action: ChangeAction;
  readonly kind: string;
  readonly givenName: string;
  readonly givenSize: number;
  readonly preparedSize: number | null;
  readonly originalSize: number;
  readonly fit: FitShown;
  /** Stands for the bytes of the change. */
  readonly stamp: string;
  readonly findings: readonly WordedFinding[];
  readonly mends: readonly Mend[];
  readonly note: string;
  /** Sheets of the same set that the mod leaves as they are. */
  readonly left: readonly LeftSheet[];
}

export async function listMods(gameId: number): Promise<ModView[]> {
  models();
  const mods = await ModRow.findAll({
    where: { gameId },
    order: [
      ['place', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  const changes = await ChangeRow.findAll({
    where: { modId: mods.map(({ id }) => id) },
    attributes: ['modId', 'fit'],
  });
  return Promise.all(
    mods.map(async ({ id, title, policy, workFolder, together }) => {
      const own = changes.filter(({ modId }) => modId === id);
      // Only where doubts are refused do forgotten halves keep a mod from being built.
      const fits =
        policy === 'refuse'
          ? (await listChanges(gameId, id)).map(({ fit }) => fit)
          : own.map(({ fit }) => fit as FitState);
      return {
        id,
        gameId,
        title,
        policy: policy as Policy,
        workFolder,
        together,
        changes: own.length,
        notFitting: fits.filter((fit) => fit === 'does not fit').length,
      };
    }),
  );
}

export async function addMod(gameId: number, title: string): Promise<ModView> {
  models();
  const place = ((await ModRow.max<number | null, ModRow>('place', { where: { gameId } })) ?? 0) + 1;
  const row = await ModRow.create({ gameId, title, place });
  const fresh = { workFolder: null, together: false, changes: 0, notFitting: 0 };
  return { id: row.id, gameId, title, policy: 'warn', ...fresh };
}

export async function modRow(gameId: number, id: number): Promise<ModRow> {
  models();
  const row = await ModRow.findOne({ where: { id, gameId } });
  if (!row) throw notFound('The mod');
  return row;
}

/** Changes what a mod is called, or what it does with what is only worth a look. */
export async function updateMod(
  gameId: number,
  id: number,
  change: Partial<{ title: string; policy: Policy; workFolder: string | null; together: boolean }>,
): Promise<void> {
  await (await modRow(gameId, id)).update(change);
}

export async function removeMod(gameId: number, id: number): Promise<void> {
  await (await modRow(gameId, id)).destroy();
}

export async function listChanges(gameId: number, modId: number): Promise<ChangeView[]> {
  const mod = await modRow(gameId, modId);
  const archives = new Map(
    (await ArchiveRow.findAll({ where: { gameId } })).map(({ path, id }) => [path, id]),
  );
  const rows = await ChangeRow.findAll({ where: { modId }, order: [['path', 'ASC']] });
  const changed = new Set(rows.map(({ path }) => path));
  const slots = new Set(rows.map(slotOf));
  const renumbered = await renumberedArchives(gameId);
  return Promise.all(
    rows.map(async (row) => {
      const left = row.kind === 'picture' ? await leftSheets(gameId, row.path, changed) : [];
      const takes = row.kind === 'sound' ? await leftTakes(gameId, row, slots) : [];
      const forgotten = [...left.map(leftFinding), ...takes];
      const findings = [...(row.findings as Finding[]), ...forgotten].map(said);
      const state = worst([{ state: row.fit as FitState }, ...forgotten]);
      return {
        id: row.id,
        path: row.path,
        archive: row.archivePath,
        archiveId: archives.get(row.archivePath) ?? null,
        index: row.action === 'add' ? -1 : ((await numberNow(gameId, row, renumbered)) ?? -1),
        action: row.action as ChangeAction,
        kind: row.kind,
        givenName: row.givenName,
        givenSize: row.givenSize,
        preparedSize: row.preparedSize,
        originalSize: row.originalSize,
        fit: under(mod.policy as Policy, state),
        findings,
        mends: row.mends as Mend[],
        note: row.note,
        stamp: (row.preparedBlob ?? row.givenBlob).slice(0, 16),
        left,
      };
    }),
  );
}

/** What is put in the place of an entry. */
export interface Given {
  readonly name: string;
  readonly blob: string;
  readonly size: number;
}

/** Puts something in the place of an entry. What does not fit is kept with its findings, and not built. */
export async function replaceEntry(
  opened: OpenedEntry,
  modId: number,
  given: Given,
  mends: readonly Mend[] = [],
): Promise<FitShown> {
  const kept = await changeSlot(opened);
  return asStep(modId, `putting in ${given.name}`, [kept], () => placeEntry(opened, modId, given, mends));
}

/** As `replaceEntry`, without a step of its own. */
export async function placeEntry(
  opened: OpenedEntry,
  modId: number,
  given: Given,
  mends: readonly Mend[] = [],
): Promise<FitShown> {
  const { gameId, row, entry } = opened;
  await modRow(gameId, modId);
  const record = await findEntry(gameId, row.id, entry.index);
  const path = record?.path ?? entry.path;
  const bytes = readBlob(given.blob);
  // It has to fit what is built on, which is never what is installed.
  const original = await originalEntry(opened);
  const slot = slotUnder(original, mends);
  const asGiven = record?.kind === 'text' && streamFinding(original, bytes) !== undefined;
  // Marks of a film are lines with times, not a table of texts whose keys have to stay.
  const prepared = asGiven
    ? { bytes, findings: [] }
    : await prepare(slot.bytes, path, record?.kind ?? 'data', bytes, given.name, new Set(mends));
  const inner = await innerFinding(opened, bytes);
  const stream = prepared.bytes && streamFinding(original, prepared.bytes);
  const flow = prepared.bytes ? await flowFound(original, prepared.bytes) : [];
  const failsToo = [inner, stream].some((finding) => finding?.state === 'does not fit');
  const findings = [
    ...[inner, stream].filter((finding) => finding !== undefined),
    // What is known of it as an archive says more than what is not known of it otherwise.
    ...prepared.findings.filter(({ code }) => !inner || code !== 'any.unknown'),
    ...flow,
    ...slot.findings,
    ...(record?.wins === false ? [await hiddenFinding(gameId, path)] : []),
  ];
  return keepChange(opened, modId, {
    given,
    kind: record?.kind ?? 'data',
    path,
    prepared:
      prepared.bytes && !failsToo
        ? { blob: keepBlob(prepared.bytes), size: prepared.bytes.length }
        : undefined,
    ...{ mends, findings },
  });
}

/** What is put in the place of an entry, made ready. */
export interface ReadyChange {
  readonly given: Given;
  readonly kind: string;
  readonly path: string;
  /** Undefined where it does not fit. */
  readonly prepared: { readonly blob: string; readonly size: number } | undefined;
  readonly mends: readonly Mend[];
  readonly findings: readonly Finding[];
}

/** Keeps what is put in the place of an entry as a change of a mod. */
export async function keepChange(
  opened: OpenedEntry,
  modId: number,
  { given, kind, path, prepared, mends, findings }: ReadyChange,
): Promise<FitShown> {
  const { policy } = await modRow(opened.gameId, modId);
  const kept = await changeSlot(opened);
  const fit = worst(findings);
  const before = await ChangeRow.findOne({
    where: { modId, ...kept },
    attributes: ['note'],
  });
  await ChangeRow.upsert(
    {
      modId,
      ...kept,
      action: 'replace',
      likeIndex: null,
      ...{ path, kind },
      givenName: given.name,
      givenBlob: given.blob,
      givenSize: given.size,
      preparedBlob: prepared?.blob ?? null,
      preparedSize: prepared?.size ?? null,
      originalSize: (await originalEntry(opened)).entry.size,
      mends: [...mends],
      findings: [...findings],
      fit,
      note: before?.note ?? '',
    },
    { conflictFields: ['mod_id', 'archive_path', 'entry_index'] as never },
  );
  return under(policy as Policy, fit);
}

/** A change of something that another archive hides is allowed, since the load order may change, but said. */
async function hiddenFinding(gameId: number, path: string): Promise<Finding> {
  const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
  return foundInChange('look', 'hidden', { archive: winner?.archive ?? null });
}

export async function changeRow(gameId: number, modId: number, changeId: number): Promise<ChangeRow> {
  await modRow(gameId, modId);
  const row = await ChangeRow.findOne({ where: { id: changeId, modId } });
  if (!row) throw notFound('The change');
  return row;
}

/** Takes a change out. */
export async function removeChange(gameId: number, modId: number, changeId: number): Promise<void> {
  const row = await changeRow(gameId, modId, changeId);
  const { archivePath, entryIndex } = row;
  await asStep(modId, `taking out ${row.path}`, [{ archivePath, entryIndex }], () => row.destroy());
}

export async function noteChange(
  gameId: number,
  modId: number,
  changeId: number,
  note: string,
): Promise<void> {
  const row = await changeRow(gameId, modId, changeId);
  const { archivePath, entryIndex } = row;
  await asStep(modId, `a note on ${row.path}`, [{ archivePath, entryIndex }], () => row.update({ note }));
}

/** The picture or bytes of a change as they will be in the archive. */
export async function preparedBytes(
  gameId: number,
  modId: number,
  changeId: number,
): Promise<{ bytes: Uint8Array; name: string }> {
  const row = await changeRow(gameId, modId, changeId);
  if (row.preparedBlob === null)
    throw new UserError(409, `${row.path} does not fit yet, so there is nothing to show. Mend it first.`);
  const bytes = readBlob(row.preparedBlob);
  const within = await ArchiveRow.findOne({ where: { gameId, path: row.archivePath, state: 'open' } });
  if (within) {
    const { archive } = await openedOriginal(gameId, within.id);
    const entry = row.action === 'replace' ? entryOfSlot(archive, row, row.path) : undefined;
    const isRecoded = entry && codecAsked(entry as Entry, row.mends as Mend[]) !== undefined;
    if (isRecoded)
      likeBytes(bytes, slotUnder({ gameId, row: within, archive, entry }, row.mends as Mend[]).bytes);
    else withBeside(bytes, besideEntry(archive, row.path), entry && describedIn(archive, entry));
    // It was written in the way in which the original is read, whatever it sounds like itself.
    if (entry) readInWay(bytes, wayRead({ archive, entry }));
  }
  return { bytes, name: row.path };
}
