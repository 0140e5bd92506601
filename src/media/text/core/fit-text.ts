import { decodeAnyText, type TextFacts } from './encoding';
import type { Finding, Mend, Prepared } from '@/core/fit';
import { foundInText } from './wording';

const placeholders = (text: string): string[] => (text.match(/\{[A-Za-z_][A-Za-z0-9_]*\}/g) ?? []).sort();

/** Rows of an identifier, a tab and a text; undefined where the text is not such a table. */
function rows(text: string): Map<string, string> | undefined {
  const lines = text.split(/\r?\n/).filter((line) => line !== '');
  if (lines.length === 0 || !lines.every((line) => line.includes('\t'))) return undefined;
  return new Map(
    lines.map((line) => [line.slice(0, line.indexOf('\t')), line.slice(line.indexOf('\t') + 1)]),
  );
}

/** Missing lines that are told by name. */
const MOST_NAMED = 8;

const encoded = ({ encoding, mark }: TextFacts) => ({ encoding, mark });

/** Makes a given text ready for the slot of another: encoding, line ends, identifiers and placeholders. */
export function fitText(slot: Uint8Array, given: Uint8Array, mends: ReadonlySet<Mend>): Prepared {
  const original = decodeAnyText(slot);
  const facts = decodeAnyText(given);
  if (!facts) return { bytes: undefined, findings: [foundInText('does not fit', 'data-given', {})] };
  if (!original) return { bytes: given, findings: [foundInText('look', 'text-for-data', {})] };
  const findings: Finding[] = [];
  let bytes = given;
  if (facts.encoding !== original.encoding || facts.mark !== original.mark) {
    const wanted = encoded(original);
    if (original.encoding !== 'utf-8' || !mends.has('convert text')) {
      const both = { given: encoded(facts), slot: wanted };
      const offer = original.encoding === 'utf-8' ? ({ mend: 'convert text' } as const) : {};
      return { bytes: undefined, findings: [foundInText('does not fit', 'other-encoding', both, offer)] };
    }
    bytes = new TextEncoder().encode(`${original.mark ? '\ufeff' : ''}${facts.text}`);
    findings.push(foundInText('fits', 'converted', { slot: wanted }));
  }
  if (facts.lineEnds !== original.lineEnds && facts.lineEnds !== 'none' && original.lineEnds !== 'none')
    findings.push(foundInText('look', 'line-ends', { given: facts.lineEnds, slot: original.lineEnds }));
  findings.push(...compareTables(original.text, facts.text));
  return { bytes, findings };
}

function compareTables(before: string, after: string): Finding[] {
  const old = rows(before);
  const now = rows(after);
  if (!old) return [foundInText('fits', 'same', {})];
  if (!now) return [foundInText('does not fit', 'no-tab', {})];
  const findings: Finding[] = [];
  const missing: string[] = [];
  let changed = 0;
  for (const [id, text] of old) {
    const given = now.get(id);
    if (given === undefined) missing.push(id);
    else if (given !== text) {
      changed++;
      const lost = placeholders(text).filter((one) => !placeholders(given).includes(one));
      if (lost.length > 0) findings.push(foundInText('look', 'lost-placeholders', { id, lost }));
    }
  }
  const first = missing.slice(0, MOST_NAMED);
  if (missing.length > 0)
    findings.push(foundInText('does not fit', 'missing-lines', { count: missing.length, first }));
  const added = [...now.keys()].filter((id) => !old.has(id)).length;
  const told = { changed, all: old.size, added, missing: missing.length };
  findings.push(foundInText(missing.length > 0 ? 'look' : 'fits', 'changed-lines', told));
  return findings;
}
