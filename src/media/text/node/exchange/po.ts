import { po, type GettextTranslation, type GettextTranslations } from 'gettext-parser';
import { FormatError } from '@/core/bytes';
import { markOf, type BroughtLine } from '../../core/desk';
import type { ExchangeTongues, GivenLine, ReadLines } from './exchange';

/** What tells lines apart in a context; no key has it. */
const BETWEEN = ' § ';
/** The sign that stands between them is spelled in names. */
const spelled = (name: string): string => name.replace(/%/g, '%25').replace(/§/g, '%A7');
const unspelled = (name: string): string => name.replace(/%A7/g, '§').replace(/%25/g, '%');
const MARK = /^mark: ([0-9a-f]{16})$/m;

/** A file as gettext has it: the context is table and key, notes and limits are comments. */
export function toPo(lines: readonly GivenLine[], { source, target }: ExchangeTongues): Uint8Array {
  const translations: Record<string, Record<string, GettextTranslation>> = {};
  for (const { place, key, nth, source: of, target: to, note, limit } of lines) {
    const context = [spelled(place), spelled(key), ...(nth > 0 ? [String(nth + 1)] : [])].join(BETWEEN);
    const said = [note, limit && `limit: ${limit}`, `mark: ${markOf(to)}`].filter((one) => one !== '');
    // An empty text would be the head of the file.
    translations[context] = {
      [of]: {
        msgctxt: context,
        msgid: of,
        msgstr: [to],
        comments: { extracted: said.join('\n'), reference: place },
      },
    };
  }
  const headers = {
    'Content-Type': 'text/plain; charset=UTF-8',
    'Content-Transfer-Encoding': '8bit',
    'MIME-Version': '1.0',
    Language: target.code,
    'Project-Id-Version': 'lines of a game',
    'PO-Revision-Date': `${new Date().toISOString().slice(0, 16).replace('T', ' ')}+0000`,
    'Last-Translator': 'nobody yet',
    'Language-Team': target.name,
    'X-Source-Language': source.code,
  };
  return new Uint8Array(po.compile({ charset: 'utf-8', headers, translations }));
}

export function fromPo(bytes: Uint8Array, file: string): ReadLines {
  let read: GettextTranslations;
  try {
    read = po.parse(Buffer.from(bytes), { defaultCharset: 'utf-8', validation: false });
  } catch (error) {
    throw new FormatError('bad-value', { file, expected: 'a PO file', actual: (error as Error).message });
  }
  const lines: BroughtLine[] = [];
  const warnings: string[] = [];
  let fuzzy = 0;
  let without = 0;
  for (const [context, own] of Object.entries(read.translations))
    for (const { msgid, msgstr, comments } of Object.values(own)) {
      if (context === '' && msgid === '') continue;
      const [place = '', key = '', number] = context.split(BETWEEN).map(unspelled);
      if (key === '') {
        without++;
        continue;
      }
      const isFuzzy = comments?.flag?.includes('fuzzy') ?? false;
      if (isFuzzy) fuzzy++;
      const mark = MARK.exec(comments?.extracted ?? '')?.[1];
      lines.push({
        place,
        key,
        nth: Math.max(0, Number(number ?? 1) - 1),
        source: msgid ?? '',
        target: msgstr?.[0] ?? '',
        mark,
      });
    }
  if (fuzzy > 0) warnings.push(`${fuzzy} lines are marked as fuzzy; look at them.`);
  if (without > 0)
    warnings.push(`${without} lines have no context and are left out; this file may not come from here.`);
  return { form: 'po', lines, warnings };
}
