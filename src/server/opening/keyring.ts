import { spelledBytes, toHex } from '@/core/bytes';
import { ArchiveRow, KeyRow, models, NameListRow, type NameListOrigin } from '@/db';
import { NameList } from '@/core/archive';
import { gameCatalogue } from '../entries/catalogue';
import { scriptShelf } from './scripts';
import { notFound, UserError } from '@/platform/user-error';

export interface KeyView {
  readonly id: number;
  readonly label: string;
  readonly masked: string;
  readonly origin: string;
  /** Part of the paths of archives that it is tried on; empty for all. */
  readonly tiedTo: string;
  /** Version of the game or its engine that it is for; empty for all. */
  readonly version: string;
  /** Archives that this key was proved against. */
  readonly opens: readonly string[];
}

/** A key as it is shown: enough to tell it from others, not enough to use it. */
export const maskedKey = (bytes: Uint8Array): string =>
  `${toHex(bytes.subarray(0, 2))}…${toHex(bytes.subarray(-2))}, ${bytes.length} bytes`;

/** Shorter than any cipher's key, longer than any; scripts may state other lengths. */
const KEY_BYTES = { least: 8, most: 64 };

const USUAL_LENGTHS = new Set([8, 16, 24, 32, 48, 64]);

/** Lengths of keys that the scripts at hand state. */
const statedLengths = (): Set<number> =>
  new Set(
    scriptShelf().flatMap(({ script }) => [...script.keys.values()].flatMap(({ length }) => length ?? [])),
  );

interface PastedKey {
  readonly label: string | undefined;
  readonly bytes: Uint8Array;
}

/** Every key in a pasted text: a key alone, one a line, `label = key`, or the values of JSON. */
export function keysInText(text: string, stated: ReadonlySet<number> = new Set()): PastedKey[] {
  const found: PastedKey[] = [];
  const add = (spelled: string, label: string | undefined): void => {
    const bytes = spelledBytes(spelled);
    if (!bytes) return;
    const isUsual = bytes.length >= KEY_BYTES.least && bytes.length <= KEY_BYTES.most;
    if (!isUsual && !stated.has(bytes.length)) return;
    if (found.some((one) => one.bytes.join() === bytes.join())) return;
    found.push({ label, bytes });
  };
  const fromJson = (value: unknown, label: string | undefined): void => {
    if (typeof value === 'string') add(value, label);
    else if (Array.isArray(value)) value.forEach((item) => fromJson(item, label));
    else if (typeof value === 'object' && value !== null)
      for (const [name, inner] of Object.entries(value)) fromJson(inner, name);
  };
  try {
    fromJson(JSON.parse(text), undefined);
    if (found.length > 0) return found;
  } catch {
    // Not JSON; it is read line by line.
  }
  for (const line of text.split(/\r?\n/)) {
    const labelled = /^\s*([^:=]{1,60}?)\s*[:=]\s*(.+)$/.exec(line);
    // A key with colons between its bytes looks like one with a label; its length tells them apart.
    const length = spelledBytes(line)?.length ?? 0;
    if (!labelled || USUAL_LENGTHS.has(length) || stated.has(length)) add(line, undefined);
    else add(labelled[2]!, labelled[1]);
  }
  if (found.length === 0) add(text, undefined);
  return found;
}

export async function listKeys(gameId: number): Promise<KeyView[]> {
  models();
  const [keys, archives] = await Promise.all([
    KeyRow.findAll({ where: { gameId }, order: [['id', 'ASC']] }),
    ArchiveRow.findAll({ where: { gameId, state: 'open' } }),
  ]);
  return keys.map((key) => ({
    id: key.id,
    label: key.label,
    masked: maskedKey(new Uint8Array(key.bytes)),
    origin: key.origin,
    tiedTo: key.tiedTo,
    version: key.version,
    opens: archives.filter(({ keyId }) => keyId === key.id).map(({ path }) => path),
  }));
}

/** Takes every key out of a pasted text into the keyring; those it has already are not added again. */
export async function addKeys(
  gameId: number,
  text: string,
  label: string,
  only: { tiedTo?: string; version?: string } = {},
): Promise<{ added: number; known: number }> {
  models();
  const stated = statedLengths();
  const pasted = keysInText(text, stated);
  if (pasted.length === 0)
    throw new UserError(
      422,
      `There is no key in this text. A key is 8 to 64 bytes${[...stated].some((one) => one < 8 || one > 64) ? `, or as long as a script says (${[...stated].filter((one) => one < 8 || one > 64).join(', ')})` : ''}, as hexadecimal digits (with or without 0x and spaces) or base64, one a line.`,
    );
  const have = await KeyRow.findAll({ where: { gameId } });
  let added = 0;
  for (const key of pasted) {
    const bytes = Buffer.from(key.bytes);
    if (have.some((one) => one.bytes.equals(bytes))) continue;
    added++;
    await KeyRow.create({
      gameId,
      label: key.label ?? (label || `key ${have.length + added}`),
      bytes,
      ...only,
    });
  }
  return { added, known: pasted.length - added };
}

/** A key as it is, for its user who asks for it. */
export async function keyInHex(gameId: number, id: number): Promise<string> {
  models();
  const key = await KeyRow.findOne({ where: { id, gameId } });
  if (!key) throw notFound('The key');
  return toHex(new Uint8Array(key.bytes));
}

/** Calls a key otherwise, or says otherwise what it is tried on. */
export async function changeKey(
  gameId: number,
  id: number,
  change: { readonly label?: string; readonly tiedTo?: string; readonly version?: string },
): Promise<void> {
  models();
  const [changed] = await KeyRow.update(change, { where: { id, gameId } });
  if (changed === 0) throw notFound('The key');
}

export async function removeKey(gameId: number, id: number): Promise<void> {
  models();
  await KeyRow.destroy({ where: { id, gameId } });
}

export interface NameListView {
  readonly id: number;
  readonly title: string;
  readonly count: number;
  readonly origin: NameListOrigin;
  readonly shared: boolean;
  /** Whether it belongs to another game that shares it. */
  readonly isForeign: boolean;
  /** How many of its names are those of entries that are kept by their hash; null where counting would take too long. */
  readonly used: number | null;
}

declare global {
  var zeroLatchUsed: Map<string, number> | undefined;
}

/** Longer lists are not held against the catalogue while somebody waits for a page. */
const MOST_COUNTED = 100_000;

/** Name lists of a game and those that other games share, with what each gives. */
export async function listNameLists(gameId: number): Promise<NameListView[]> {
  models();
  const lists = await NameListRow.findAll({ order: [['id', 'ASC']] });
  const game = await gameCatalogue(gameId);
  const kept = (globalThis.zeroLatchUsed ??= new Map<string, number>());
  return lists
    .filter((list) => list.gameId === gameId || list.shared)
    .map(({ id, title, names, origin, shared, gameId: owner }) => {
      const list = NameList.parse(names);
      const key = `${gameId} ${id} ${game?.stamp}`;
      let used = list.length > MOST_COUNTED ? null : kept.get(key);
      if (used === undefined) {
        used = 0;
        for (const name of game ? list : [])
          if (game!.catalogue.stack(name).some((row) => game!.catalogue.at(row).hash !== undefined)) used++;
        if (kept.size > 200) kept.clear();
        kept.set(key, used);
      }
      return { id, title, count: list.length, origin, shared, isForeign: owner !== gameId, used };
    });
}

async function nameList(gameId: number, id: number): Promise<NameListRow> {
  models();
  const row = await NameListRow.findByPk(id);
  if (!row || (row.gameId !== gameId && !row.shared)) throw notFound('The name list');
  return row;
}

export async function nameListText(gameId: number, id: number): Promise<{ title: string; text: string }> {
  const { title, names } = await nameList(gameId, id);
  return { title, text: `${names}\n` };
}

/** Lets other games use a list, as those of one engine do, or stops that. */
export async function shareNameList(gameId: number, id: number, shared: boolean): Promise<void> {
  const row = await nameList(gameId, id);
  if (row.gameId !== gameId) throw new UserError(409, 'The list belongs to another game; share it there.');
  await row.update({ shared });
}

export async function addNameList(gameId: number, title: string, text: string): Promise<number> {
  models();
  const names = NameList.parse(text);
  if (names.length === 0)
    throw new UserError(422, 'There is no path in this text. A name list has one path a line.');
  await NameListRow.create({ gameId, title, names: [...names].join('\n') });
  return names.length;
}

export async function removeNameList(gameId: number, id: number): Promise<void> {
  models();
  await NameListRow.destroy({ where: { id, gameId } });
}
