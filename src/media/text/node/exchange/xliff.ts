import { js2xliff, jsToXliff12, xliff12ToJs, xliff2js, type XliffFile, type XliffUnit } from 'xliff';
import { FormatError } from '@/core/bytes';
import { markOf, type BroughtLine } from '../../core/desk';
import { decodeAnyText } from '../../core/encoding';
import { refuseNotXml, type ExchangeTongues, type GivenLine, type ReadLines } from './exchange';

const MARK = /\[mark ([0-9a-f]{16})\]/;
/** Names of units and files are tokens of XML; other signs are spelled by their number. */
const token = (text: string): string =>
  `n${text.replace(/[^A-Za-z0-9.-]/gu, (sign) => `_${sign.codePointAt(0)!.toString(16)}_`)}`;
const fromToken = (text: string): string =>
  text
    .slice(1)
    .replace(/_([0-9a-f]{1,6})_/g, (_, code: string) =>
      String.fromCodePoint(Math.min(parseInt(code, 16), 0x10ffff)),
    );
/** A file of XLIFF (OASIS), version 1.2 or 2.0: a file for each table, a unit for each line. */
export async function toXliff(
  lines: readonly GivenLine[],
  { source, target }: ExchangeTongues,
  version: '1.2' | '2',
): Promise<Uint8Array> {
  const resources: Record<string, Record<string, XliffUnit>> = {};
  for (const line of lines) {
    refuseNotXml(line);
    const { place, key, nth, source: of, target: to, note, limit } = line;
    // A colon is always spelled in names.
    const unit = `${token(key)}${nth > 0 ? `:${nth + 1}` : ''}`;
    const said = [note, limit && `limit: ${limit}`, `[mark ${markOf(to)}]`]
      .filter((one) => one !== '')
      .join(' ');
    (resources[token(place)] ??= {})[unit] = { source: of, target: to, note: said };
  }
  const file = { sourceLanguage: source.code || 'und', targetLanguage: target.code || 'und', resources };
  const text = await (version === '2' ? js2xliff(file, { indent: ' ' }) : jsToXliff12(file, { indent: ' ' }));
  return new TextEncoder().encode(`<?xml version="1.0" encoding="UTF-8"?>\n${text}\n`);
}

export async function fromXliff(bytes: Uint8Array, name: string): Promise<ReadLines> {
  const text = decodeAnyText(bytes)?.text ?? '';
  const isOld = /<xliff[^>]*\bversion\s*=\s*["']1\./.test(text);
  // Nothing outside the file is ever asked for; a file that defines its own signs is refused.
  if (/<!DOCTYPE|<!ENTITY/i.test(text))
    throw new FormatError('bad-value', {
      file: name,
      expected: 'XLIFF without definitions of its own',
      actual: 'a DOCTYPE',
    });
  const file = await new Promise<XliffFile>((resolve, reject) => {
    const answer = (error: Error | null, made: XliffFile): void => (error ? reject(error) : resolve(made));
    try {
      void (isOld ? xliff12ToJs(text, answer) : xliff2js(text, answer));
    } catch (error) {
      reject(error as Error);
    }
  }).catch((error: Error) => {
    throw new FormatError('bad-value', {
      file: name,
      expected: 'an XLIFF file',
      actual: error.message.slice(0, 200),
    });
  });
  const lines: BroughtLine[] = [];
  for (const [place, units] of Object.entries(file.resources ?? {}))
    for (const [unit, { source, target, note }] of Object.entries(units)) {
      const [name = '', number] = unit.split(':');
      const key = name.startsWith('n') ? fromToken(name) : name;
      const said = Array.isArray(note) ? note.join(' ') : (note ?? '');
      lines.push({
        place: place.startsWith('n') ? fromToken(place) : place,
        key,
        nth: Math.max(0, (Number(number) || 1) - 1),
        source: plain(source),
        target: plain(target),
        mark: MARK.exec(said)?.[1],
      });
    }
  if (lines.length === 0)
    throw new FormatError('bad-value', { file: name, expected: 'an XLIFF file with units', actual: 'none' });
  return { form: isOld ? 'xliff 1.2' : 'xliff 2', lines, warnings: [] };
}

/** A text, also where a program has put elements into it. */
function plain(of: unknown): string {
  if (typeof of === 'string') return of;
  if (Array.isArray(of)) return of.map(plain).join('');
  if (typeof of !== 'object' || of === null) return '';
  return Object.values(of as Record<string, { contents?: unknown }>)
    .map(({ contents }) => plain(contents))
    .join('');
}
