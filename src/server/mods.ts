import sharp from 'sharp';
import { kindOfPath, typeOfHead } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import {
  fitPicture,
  fitSound,
  fitText,
  worst,
  type Finding,
  type FitState,
  type Mend,
  type Prepared,
} from '@/core/fit';
import { ArchiveRow, ChangeRow, ModRow, models } from '@/db';
import { decodeLevel, type Pixels } from '@/core/media/texture';
import { findEntry, findStack } from './catalogue';
import { openedEntry } from './opened';
import { pixelsOf, wholeEntry, wrappedPicture } from './preview';
import { keepBlob, readBlob } from './storage';
import { notFound, UserError } from './user-error';

export interface ModView {
  readonly id: number;
  readonly gameId: number;
  readonly title: string;
  readonly changes: number;
  readonly notFitting: number;
}

export interface ChangeView {
  readonly id: number;
  readonly path: string;
  readonly archive: string;
  readonly archiveId: number | null;
  readonly index: number;
  readonly kind: string;
  readonly givenName: string;
  readonly givenSize: number;
  readonly preparedSize: number | null;
  readonly originalSize: number;
  readonly fit: FitState;
  readonly findings: readonly Finding[];
  readonly mends: readonly Mend[];
}

export async function listMods(gameId: number): Promise<ModView[]> {
  models();
  const mods = await ModRow.findAll({ where: { gameId }, order: [['id', 'ASC']] });
  const changes = await ChangeRow.findAll({
    where: { modId: mods.map(({ id }) => id) },
    attributes: ['modId', 'fit'],
  });
  return mods.map(({ id, title }) => {
    const own = changes.filter(({ modId }) => modId === id);
    return {
      id,
      gameId,
      title,
      changes: own.length,
      notFitting: own.filter(({ fit }) => fit === 'does not fit').length,
    };
  });
}

export async function addMod(gameId: number, title: string): Promise<ModView> {
  models();
  const row = await ModRow.create({ gameId, title });
  return { id: row.id, gameId, title, changes: 0, notFitting: 0 };
}

export async function modRow(gameId: number, id: number): Promise<ModRow> {
  models();
  const row = await ModRow.findOne({ where: { id, gameId } });
  if (!row) throw notFound('The mod');
  return row;
}

export async function renameMod(gameId: number, id: number, title: string): Promise<void> {
  await (await modRow(gameId, id)).update({ title });
}

export async function removeMod(gameId: number, id: number): Promise<void> {
  await (await modRow(gameId, id)).destroy();
}

export async function listChanges(gameId: number, modId: number): Promise<ChangeView[]> {
  await modRow(gameId, modId);
  const archives = new Map(
    (await ArchiveRow.findAll({ where: { gameId } })).map(({ path, id }) => [path, id]),
  );
  const rows = await ChangeRow.findAll({ where: { modId }, order: [['path', 'ASC']] });
  return rows.map((row) => ({
    id: row.id,
    path: row.path,
    archive: row.archivePath,
    archiveId: archives.get(row.archivePath) ?? null,
    index: row.entryIndex,
    kind: row.kind,
    givenName: row.givenName,
    givenSize: row.givenSize,
    preparedSize: row.preparedSize,
    originalSize: row.originalSize,
    fit: row.fit as FitState,
    findings: row.findings as Finding[],
    mends: row.mends as Mend[],
  }));
}

/** Puts something in the place of an entry. What does not fit is kept with its findings, and not built. */
export async function replaceEntry(
  gameId: number,
  modId: number,
  slot: { archiveId: number; index: number },
  given: { name: string; blob: string; size: number },
  mends: readonly Mend[] = [],
): Promise<FitState> {
  await modRow(gameId, modId);
  const { row, archive, entry } = await openedEntry(gameId, slot.archiveId, slot.index);
  if (row.sort !== 'file')
    throw new UserError(
      409,
      row.sort === 'loose'
        ? `${entry.path} is in no archive. Change the file itself with a copy of it kept, or put one that overrides it into an archive.`
        : `${entry.path} lies in an archive within another one, which is not rebuilt here yet. Extract ${row.path.split('//').at(-1)}, repack it with bin/latch, and replace it as a whole.`,
    );
  const record = await findEntry(gameId, slot.archiveId, slot.index);
  const path = record?.path ?? entry.path;
  const bytes = readBlob(given.blob);
  const prepared = await prepare(
    wholeEntry(archive, entry),
    path,
    record?.kind ?? kindOfPath(path),
    bytes,
    given.name,
    new Set(mends),
  );
  const findings = [
    ...prepared.findings,
    ...(record?.wins === false ? [await hiddenFinding(gameId, path)] : []),
  ];
  const fit = worst(findings);
  await ChangeRow.upsert(
    {
      modId,
      archivePath: row.path,
      entryIndex: slot.index,
      path,
      kind: record?.kind ?? kindOfPath(path),
      givenName: given.name,
      givenBlob: given.blob,
      givenSize: given.size,
      preparedBlob: prepared.bytes ? keepBlob(prepared.bytes) : null,
      preparedSize: prepared.bytes?.length ?? null,
      originalSize: entry.size,
      mends: [...mends],
      findings,
      fit,
    },
    { conflictFields: ['mod_id', 'archive_path', 'entry_index'] as never },
  );
  return fit;
}

/** A change of something that another archive hides is allowed, since the load order may change, but said. */
async function hiddenFinding(gameId: number, path: string): Promise<Finding> {
  const winner = (await findStack(gameId, path)).find(({ wins }) => wins);
  return {
    state: 'look',
    what: `hidden by ${winner?.archive ?? 'another archive'}`,
    why: 'That archive answers for this path, so the game will not see the change; replace the entry there instead',
  };
}

/** Applies a mend to a change and looks at the fit again. */
export async function mendChange(
  gameId: number,
  modId: number,
  changeId: number,
  mend: Mend,
): Promise<FitState> {
  const row = await changeRow(gameId, modId, changeId);
  const archive = await ArchiveRow.findOne({ where: { gameId, path: row.archivePath } });
  if (!archive) throw notFound(row.archivePath);
  const mends = [...new Set([...(row.mends as Mend[]), mend])];
  return replaceEntry(
    gameId,
    modId,
    { archiveId: archive.id, index: row.entryIndex },
    { name: row.givenName, blob: row.givenBlob, size: row.givenSize },
    mends,
  );
}

async function changeRow(gameId: number, modId: number, changeId: number): Promise<ChangeRow> {
  await modRow(gameId, modId);
  const row = await ChangeRow.findOne({ where: { id: changeId, modId } });
  if (!row) throw notFound('The change');
  return row;
}

/** What puts a change in again after it was taken out. */
export interface RemovedChange {
  readonly archivePath: string;
  readonly index: number;
  readonly name: string;
  readonly blob: string;
  readonly size: number;
  readonly mends: readonly Mend[];
}

/** Takes a change out. */
export async function removeChange(gameId: number, modId: number, changeId: number): Promise<RemovedChange> {
  const row = await changeRow(gameId, modId, changeId);
  await row.destroy();
  return {
    archivePath: row.archivePath,
    index: row.entryIndex,
    name: row.givenName,
    blob: row.givenBlob,
    size: row.givenSize,
    mends: row.mends as Mend[],
  };
}

/** Puts a change in again that was taken out. */
export async function restoreChange(
  gameId: number,
  modId: number,
  removed: RemovedChange,
): Promise<FitState> {
  const archive = await ArchiveRow.findOne({ where: { gameId, path: removed.archivePath } });
  if (!archive) throw notFound(removed.archivePath);
  return replaceEntry(gameId, modId, { archiveId: archive.id, index: removed.index }, removed, removed.mends);
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
  return { bytes: readBlob(row.preparedBlob), name: row.path };
}

/** Makes given bytes ready for a slot. Throws UserError where they are not what their name says. */
async function prepare(
  slot: Uint8Array,
  path: string,
  kind: string,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared> {
  refuseMisnamed(given, name);
  const wrapped = wrappedPicture(slot, path);
  if (wrapped) {
    const pixels = await givenPixels(given, name, path);
    const resized = mends.has('resize') ? await resize(pixels, wrapped.width, wrapped.height) : pixels;
    return fitPicture(wrapped, pixels, mends, () => resized);
  }
  if (typeOfHead(slot)?.ending === 'wav') {
    try {
      return fitSound(slot, given, mends);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      return {
        bytes: undefined,
        findings: [{ state: 'does not fit', what: error.message, why: 'The slot holds a wave file' }],
      };
    }
  }
  if (kind === 'text') return fitText(slot, given, mends);
  return {
    bytes: given,
    findings: [
      {
        state: 'look',
        what: `${given.length} bytes in the place of ${slot.length}`,
        why: 'Nothing is known about this kind of entry, so its fit cannot be checked',
      },
    ],
  };
}

/** An ending that promises a type which the first bytes do not bear out. */
function refuseMisnamed(given: Uint8Array, name: string): void {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  const promised = ending === 'jpeg' ? 'jpg' : ending;
  const type = typeOfHead(given);
  if (!['png', 'jpg', 'webp', 'wav', 'ogg', 'flac'].includes(promised) || type?.ending === promised) return;
  const found = type
    ? `those of a ${type.ending.toUpperCase()} file`
    : given.length === 0
      ? 'missing: the file is empty'
      : 'of no such file';
  throw new UserError(
    422,
    `${name} is no ${promised.toUpperCase()} file: its first bytes are ${found}. Nothing was changed. Save it again in the format that its name says, or rename it.`,
  );
}

async function givenPixels(given: Uint8Array, name: string, path: string): Promise<Pixels> {
  const wrapped = wrappedPicture(given, name);
  if (wrapped) return decodeLevel(wrapped);
  if (typeOfHead(given)?.kind !== 'picture')
    throw new UserError(
      422,
      `${name} is no picture that can be read here; ${path} holds one. Give a PNG, JPEG, WebP or a file of the same format as the slot. Nothing was changed.`,
    );
  try {
    return await pixelsOf(given, name);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new UserError(
      422,
      `${name} cannot be decoded: ${error instanceof Error ? error.message : String(error)}. Save it again and try once more. Nothing was changed.`,
    );
  }
}

async function resize({ width, height, data }: Pixels, toWidth: number, toHeight: number): Promise<Pixels> {
  const out = await sharp(Buffer.from(data.buffer, data.byteOffset, data.length), {
    raw: { width, height, channels: 4 },
  })
    .resize(toWidth, toHeight, { fit: 'fill', kernel: 'lanczos3' })
    .raw()
    .toBuffer();
  return { width: toWidth, height: toHeight, data: new Uint8Array(out) };
}
