import { LRUCache } from 'lru-cache';
import { FormatError } from '@/core/bytes';
import { ChangeRow } from '@/db';
import type { FiledTable } from '@/media/table/core';
import { UserError } from '@/platform/user-error';
import { gameCatalogue, type EntryRecord } from '../entries/catalogue';
import { modRow } from '../mods/mods';
import { readBlob } from '../storage/storage';
import { withFiles } from './beyond-tables';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { BESIDE_BYTES, readBytes, takeUp, type FileRead } from './laid-tables';
import { LINES_FORM } from './line-rows';
import { NAMED_IN_TEXTS } from './named-in-texts';
import { arrange, indexed, readGame, type GameLink, type Reading } from './reading';

declare global {
  var zeroLatchModReadings: LRUCache<string, { stamp: string; reading: Promise<Reading> }> | undefined;
}
const readings = (): LRUCache<string, { stamp: string; reading: Promise<Reading> }> =>
  (globalThis.zeroLatchModReadings ??= new LRUCache({ max: 2 }));

/** The tables of a game and what points where in them; with a mod, as they will be with its changes. */
export async function openReading(gameId: number, modId?: number): Promise<Reading> {
  const before = await readGame(gameId);
  if (modId === undefined) return before;
  await modRow(gameId, modId);
  const rows = await ChangeRow.findAll({
    where: { modId, action: 'replace' },
    attributes: ['path', 'archivePath', 'preparedBlob'],
    order: [['id', 'ASC']],
    raw: true,
  });
  const files = new Map(before.found.map(({ file, path }) => [path, file]));
  // Of namesakes those are read that the game finds; a change of another one is not seen.
  const changed = rows.filter(({ path, archivePath, preparedBlob }) => {
    const file = files.get(path);
    return preparedBlob !== null && file !== undefined && [archivePath, '.'].includes(file.archive);
  });
  if (changed.length === 0) return before;
  const stamp = `${before.stamp} ${JSON.stringify(changed)}`;
  const id = `${gameId} ${modId}`;
  const known = readings().get(id);
  if (known?.stamp === stamp) return known.reading;
  const reading = withChanges(
    before,
    new Map(changed.map(({ path, preparedBlob }) => [path, preparedBlob!])),
    stamp,
  );
  readings().set(id, { stamp, reading });
  reading.catch(() => readings().delete(id));
  return reading;
}

async function withChanges(
  before: Reading,
  blobs: ReadonlyMap<string, string>,
  stamp: string,
): Promise<Reading> {
  const problems = before.problems.filter(({ path }) => !blobs.has(path));
  const made = new Set<string>();
  const found: FiledTable<EntryRecord>[] = [];
  for (const one of before.found) {
    const blob = blobs.get(one.path);
    if (blob === undefined) found.push(one);
    // All tables of a file come with the first of them.
    if (blob === undefined || made.has(one.path)) continue;
    made.add(one.path);
    try {
      const { form, tables } = await readBeside(readBlob(blob), one.path, one.form === LINES_FORM);
      for (const table of tables) found.push({ file: one.file, path: one.path, form, table });
    } catch (error) {
      if (!(error instanceof FormatError) && !(error instanceof UserError)) throw error;
      problems.push({ path: one.path, why: error.message });
    }
  }
  const arranged = await arrange(found, before.vocabularies, (id, files) => {
    const was = before.tables[before.byId.get(id) ?? -1];
    const isSame = was?.files.length === files.length && !files.some(({ path }) => blobs.has(path));
    return isSame ? was : undefined;
  });
  const { gameId, vocabularies, mapWords, partsWords, valueNames, isCut, saidOfFiles } = before;
  const game = await gameCatalogue(gameId);
  if (!game) return before;
  // What programs and scripts name is what they name without the mod: going through all of them for each value would be slow.
  const texts = before.tables.find(({ id }) => id === NAMED_IN_TEXTS);
  const tables = texts ? [...arranged.tables, texts] : arranged.tables;
  const byId = new Map(tables.map(({ id }, i) => [id, i]));
  const linked = { tables, byId, keys: arranged.keys, links: linksIn({ tables, byId }, before) };
  return indexed({
    ...withFiles(game, linked, saidOfFiles),
    ...{
      gameId,
      vocabularies,
      mapWords,
      partsWords,
      valueNames,
      isCut,
      found,
      problems,
      stamp,
      before,
      saidOfFiles,
    },
  });
}

/** The tables of bytes; of many beside the server, which answers others meanwhile. */
async function readBeside(bytes: Uint8Array, name: string, isLines: boolean): Promise<FileRead> {
  if (bytes.length <= BESIDE_BYTES || !hasLookThread()) return readBytes(bytes, name, isLines);
  return takeUp(await lookBeside('tablesOf', { bytes, name, isLines }));
}

/** What points where stays as it is without the mod, so that an edit does not change what fields mean. */
function linksIn({ tables, byId }: Pick<Reading, 'tables' | 'byId'>, before: Reading): GameLink[] {
  return before.links.flatMap((link) => {
    const [from, to] = [link.from, link.to].map((table) => byId.get(before.tables[table]!.id));
    if (from === undefined || to === undefined) return [];
    const fieldIn = (own: number, path: string): number =>
      tables[own]!.fields.findIndex((one) => one.path === path);
    const field = fieldIn(from, before.tables[link.from]!.fields[link.field]!.path);
    const by = fieldIn(to, before.tables[link.to]!.fields[link.by]!.path);
    return field < 0 || by < 0 ? [] : [{ ...link, from, to, field, by }];
  });
}
