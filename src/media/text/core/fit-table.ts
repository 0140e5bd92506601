import type { Prepared } from '@/core/fit';
import { checkLine, type LineTable, type TableLine } from './lines';
import { foundInText } from './wording';

/** Missing lines that are told by name. */
const MOST_NAMED = 8;

const byKey = ({ lines }: LineTable): Map<string, TableLine> =>
  new Map(lines.map((line) => [line.key, line] as const));

/** A table of texts given for another of the same form: lines that are missing, and texts that lost what the game puts in. */
export function fitTable(slot: LineTable, read: () => LineTable | undefined, bytes: Uint8Array): Prepared {
  const given = read();
  if (!given)
    return { bytes: undefined, findings: [foundInText('does not fit', 'no-table', { form: slot.form })] };
  const [old, now] = [byKey(slot), byKey(given)];
  const missing = [...old.keys()].filter((key) => !now.has(key));
  const first = missing.slice(0, MOST_NAMED);
  let changed = 0;
  let [wrong, firstWrong] = [0, ''];
  for (const [key, { texts, limit }] of now) {
    const before = old.get(key);
    const isSame = texts.every((text, i) => text === before?.texts[i]);
    if (!before || isSame) continue;
    changed++;
    const rules = { source: before.texts[0], limit, bytesOf: given.bytesOf, forbidden: given.forbidden };
    const found = checkLine(texts[0] ?? '', rules).find(({ state }) => state === 'wrong');
    if (!found) continue;
    wrong++;
    firstWrong ||= `${key}: ${found.what}`;
  }
  const added = [...now.keys()].filter((key) => !old.has(key)).length;
  const told = { changed, all: old.size, added, missing: missing.length };
  return {
    bytes,
    findings: [
      ...(missing.length > 0
        ? [foundInText('does not fit', 'missing-lines', { count: missing.length, first })]
        : []),
      ...(wrong > 0 ? [foundInText('look', 'failing-lines', { count: wrong, first: firstWrong })] : []),
      foundInText(missing.length > 0 ? 'look' : 'fits', 'changed-lines', told),
    ],
  };
}
