import { affixOf, fitsAffix, wordsOfPath, type Code } from '@/core/catalogue';
import { IdTableRow, models } from '@/db';

/** The readable names of all tables of a game; of one code the first table's. */
export interface ReadableNames {
  readonly stamp: string;
  /** By code in lower letters. */
  readonly byCode: ReadonlyMap<string, string>;
  /** What beginnings and ends of names mean. */
  readonly affixes: readonly { at: 'start' | 'end'; text: string; name: string }[];
}

declare global {
  var zeroLatchReadable: Map<number, ReadableNames> | undefined;
}

export async function readableNames(gameId: number): Promise<ReadableNames> {
  models();
  const ids = await IdTableRow.findAll({
    where: { gameId },
    attributes: ['id'],
    order: [['id', 'ASC']],
    raw: true,
  });
  const stamp = ids.map(({ id }) => id).join();
  const kept = (globalThis.zeroLatchReadable ??= new Map<number, ReadableNames>());
  const known = kept.get(gameId);
  if (known?.stamp === stamp) return known;
  const byCode = new Map<string, string>();
  const affixes: { at: 'start' | 'end'; text: string; name: string }[] = [];
  for (const { codes } of await IdTableRow.findAll({ where: { gameId }, order: [['id', 'ASC']] }))
    for (const [code, name] of codes as Code[]) {
      const key = code.toLowerCase();
      const affix = affixOf(key);
      if (affix) affixes.push({ ...affix, name });
      else if (!byCode.has(key)) byCode.set(key, name);
    }
  const names: ReadableNames = { stamp, byCode, affixes };
  kept.set(gameId, names);
  return names;
}

/** Readable names of the codes in a path. */
export function labelsOf({ byCode, affixes }: ReadableNames, path: string): string[] {
  if (byCode.size === 0 && affixes.length === 0) return [];
  const labels = wordsOfPath(path).flatMap((word) => byCode.get(word.toLowerCase()) ?? []);
  for (const affix of affixes) if (fitsAffix(affix, path)) labels.push(affix.name);
  return [...new Set(labels)];
}

/** A search for more codes than this is one for a word that is in every name. */
const MOST_CODES = 60;

/** Codes whose readable name has a text in it. */
export function codesCalled({ byCode, affixes }: ReadableNames, text: string): string[] {
  const wanted = text.toLowerCase();
  const found: string[] = [];
  for (const [code, name] of byCode) {
    if (code.length > 1 && name.toLowerCase().includes(wanted)) found.push(code);
    if (found.length >= MOST_CODES) break;
  }
  // Beginnings and ends as they stand in paths.
  for (const { at, text: sign, name } of affixes)
    if (name.toLowerCase().includes(wanted)) found.push(at === 'start' ? `/${sign}` : `${sign}.`);
  return found;
}
