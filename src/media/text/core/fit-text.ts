import { decodeAnyText, type TextFacts } from './encoding';
import type { Finding, Mend, Prepared } from '@/core/fit';

const placeholders = (text: string): string[] => (text.match(/\{[A-Za-z_][A-Za-z0-9_]*\}/g) ?? []).sort();

/** Rows of an identifier, a tab and a text; undefined where the text is not such a table. */
function rows(text: string): Map<string, string> | undefined {
  const lines = text.split(/\r?\n/).filter((line) => line !== '');
  if (lines.length === 0 || !lines.every((line) => line.includes('\t'))) return undefined;
  return new Map(
    lines.map((line) => [line.slice(0, line.indexOf('\t')), line.slice(line.indexOf('\t') + 1)]),
  );
}

/** Makes a given text ready for the slot of another: encoding, line ends, identifiers and placeholders. */
export function fitText(slot: Uint8Array, given: Uint8Array, mends: ReadonlySet<Mend>): Prepared {
  const original = decodeAnyText(slot);
  const facts = decodeAnyText(given);
  if (!facts)
    return {
      bytes: undefined,
      findings: [
        {
          state: 'does not fit',
          what: 'data given, the slot holds text',
          why: 'The game reads this entry as text',
        },
      ],
    };
  if (!original)
    return {
      bytes: given,
      findings: [
        { state: 'look', what: 'text given, the slot holds data', why: 'The game may not expect text here' },
      ],
    };
  const findings: Finding[] = [];
  let bytes = given;
  if (facts.encoding !== original.encoding || facts.mark !== original.mark) {
    const what = `${spelled(facts)} given, the slot has ${spelled(original)}`;
    if (original.encoding !== 'utf-8' || !mends.has('convert text')) {
      findings.push({
        state: 'does not fit',
        what,
        why: 'The game would show wrong characters or refuse the file',
        ...(original.encoding === 'utf-8' && {
          mend: { name: 'convert text', label: `Convert to ${spelled(original)}` } as const,
        }),
      });
      return { bytes: undefined, findings };
    }
    bytes = new TextEncoder().encode(`${original.mark ? '\ufeff' : ''}${facts.text}`);
    findings.push({ state: 'fits', what: `converted to ${spelled(original)}`, why: 'As the slot has it' });
  }
  if (facts.lineEnds !== original.lineEnds && facts.lineEnds !== 'none' && original.lineEnds !== 'none')
    findings.push({
      state: 'look',
      what: `line ends ${facts.lineEnds}, the slot has ${original.lineEnds}`,
      why: 'Some games show a stray sign at each line end',
    });
  findings.push(...compareTables(original.text, facts.text));
  return { bytes, findings };
}

const spelled = ({ encoding, mark }: TextFacts): string =>
  `${encoding.toUpperCase()}${mark ? ' with a mark' : ''}`;

/** Missing lines that are told by name. */
const MOST_NAMED = 8;

function compareTables(before: string, after: string): Finding[] {
  const old = rows(before);
  const now = rows(after);
  if (!old) return [{ state: 'fits', what: 'text as the slot has it', why: 'Encoding and line ends agree' }];
  if (!now)
    return [
      {
        state: 'does not fit',
        what: 'a line has no tab',
        why: 'Every line of this table is an identifier, a tab and a text',
      },
    ];
  const findings: Finding[] = [];
  const missing: string[] = [];
  let changed = 0;
  for (const [id, text] of old) {
    const given = now.get(id);
    if (given === undefined) missing.push(id);
    else if (given !== text) {
      changed++;
      const lost = placeholders(text).filter((one) => !placeholders(given).includes(one));
      if (lost.length > 0)
        findings.push({
          state: 'look',
          what: `${id} has lost ${lost.join(', ')}`,
          why: 'The game puts a value there',
        });
    }
  }
  if (missing.length > 0)
    findings.push({
      state: 'does not fit',
      what:
        missing.length === 1
          ? `the line ${missing[0]} is missing`
          : `${missing.length} lines are missing: ${missing.slice(0, MOST_NAMED).join(', ')}${missing.length > MOST_NAMED ? ' …' : ''}`,
      why: 'The game asks for each by its name',
    });
  const added = [...now.keys()].filter((id) => !old.has(id)).length;
  findings.push({
    state: missing.length > 0 ? 'look' : 'fits',
    what: `${changed} of ${old.size} lines changed${added ? `, ${added} added` : ''}`,
    why: missing.length > 0 ? 'Of those that are there' : 'Identifiers agree',
  });
  return findings;
}
