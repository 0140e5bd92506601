import { FormatError } from '@/core/bytes';
import { fromCsv, toCsv } from './csv';
import {
  EXCHANGE_FORMS,
  type ExchangeForm,
  type ExchangeTongues,
  type GivenLine,
  type ReadLines,
} from './exchange';
import { fromJson, toJson } from './json';
import { fromPo, toPo } from './po';
import { fromXliff, toXliff } from './xliff';
import { fromXlsx, toXlsx } from './xlsx';

export { EXCHANGE_FORMS, type ExchangeForm, type ExchangeTongues, type GivenLine, type ReadLines };

/** The ending of each form, and what a browser is told that it is. */
export const EXCHANGE_FILES: Readonly<
  Record<ExchangeForm, { readonly ending: string; readonly type: string }>
> = {
  csv: { ending: 'csv', type: 'text/csv; charset=utf-8' },
  xlsx: { ending: 'xlsx', type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' },
  po: { ending: 'po', type: 'text/x-gettext-translation; charset=utf-8' },
  'xliff 1.2': { ending: 'xlf', type: 'application/xliff+xml' },
  'xliff 2': { ending: 'xlf', type: 'application/xliff+xml' },
  json: { ending: 'json', type: 'application/json' },
};

/** Lines as a file for whoever translates them elsewhere. */
export async function writeLines(
  form: ExchangeForm,
  lines: readonly GivenLine[],
  tongues: ExchangeTongues,
): Promise<Uint8Array> {
  switch (form) {
    case 'csv':
      return toCsv(lines, tongues);
    case 'xlsx':
      return toXlsx(lines, tongues);
    case 'po':
      return toPo(lines, tongues);
    case 'json':
      return toJson(lines, tongues);
    default:
      return toXliff(lines, tongues, form === 'xliff 2' ? '2' : '1.2');
  }
}

/** Lines out of a file that came back, by what its bytes are. Throws FormatError where it is none of these forms. */
export async function readLines(bytes: Uint8Array, name: string): Promise<ReadLines> {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return fromXlsx(bytes, name);
  const start = new TextDecoder('utf-8')
    .decode(bytes.subarray(0, 4096))
    .replace(/^\ufeff/, '')
    .trimStart();
  if (start.startsWith('<')) return fromXliff(bytes, name);
  if (/^[{[]/.test(start)) return fromJson(bytes, name);
  if (/^(#.*\n|\s)*(msgctxt|msgid|domain)\b/.test(start)) return fromPo(bytes, name);
  if (bytes.length === 0)
    throw new FormatError('bad-value', { file: name, expected: 'lines', actual: 'an empty file' });
  return fromCsv(bytes, name);
}
