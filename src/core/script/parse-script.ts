import { fromHex } from '../bytes';
import { ciphers } from '../ciphers';
import { codecs } from '../codecs';
import { hashes } from '../hashes';
import { compileExpression, type KnownNames } from './compile-expression';
import { suggest, type ScriptScope } from './scope';
import { readYaml, type Located } from './located';
import { parseRecords } from './parse-records';
import { parseSeal } from './parse-seal';
import type {
  Compiled,
  EntriesType,
  KeyType,
  Mark,
  NameHashing,
  PartType,
  PictureType,
  Script,
} from './types';
import type { Value } from './values';

const TOP = [
  'format script',
  'title',
  'about',
  'author',
  'terms',
  'tried on',
  'recognise',
  'byte order',
  'keys',
  'constants',
  'records',
  'parts',
  'entries',
  'picture',
] as const;

/** The only version of the language so far. */
const VERSION = '1';

/**
 * Reads the text of a format script and checks all of it: words, types, names, functions, registries.
 * Throws FormatError `script-wrong` with line, column, what was expected and a suggestion.
 */
export function parseScript(text: string): Script {
  const top = readYaml(text);
  top.entries(TOP);
  const version = top.need('format script');
  if (version.text() !== VERSION) version.fail(`version ${VERSION}`, version.text());

  const constants = new Map<string, Value>();
  for (const [name, value] of top.get('constants')?.entries() ?? []) constants.set(name, value.scalar());
  const keys = new Map(
    (top.get('keys')?.entries() ?? []).map(([name, value]) => [name, readKey(name, value)]),
  );
  const records = top.need('records');
  const parts = top.need('parts');
  const others = new Set(parts.entries().map(([name]) => name));
  for (const [, record] of records.entries()) for (const [field] of record.entries()) others.add(field);

  const known: KnownNames = { constants, keys: new Set(keys.keys()), others };
  const order = top.get('byte order')?.text() ?? 'little';
  if (order !== 'little' && order !== 'big') top.need('byte order').fail('little or big', order);
  const scope: ScriptScope = {
    known,
    recordNames: new Set(records.entries().map(([name]) => name)),
    little: order === 'little',
    expression: (at, given, textOffset) =>
      at.locate(() => compileExpression(given ?? at.text(), known), textOffset),
  };
  const textOf = (name: (typeof TOP)[number]): string => top.get(name)?.text() ?? '';
  return {
    title: top.need('title').text(),
    about: textOf('about'),
    author: textOf('author'),
    triedOn:
      top
        .get('tried on')
        ?.items()
        .map((item) => item.text()) ?? [],
    text,
    marks: top.need('recognise').items().map(readMark),
    keys,
    constants,
    records: parseRecords(records, scope),
    parts: parts.entries().map(([name, part]) => readPart(name, part, scope)),
    entries: readEntries(top.need('entries'), scope),
    picture: readPicture(top.get('picture'), scope),
  };
}

function readKey(name: string, at: Located): KeyType {
  at.entries(['bytes', 'about']);
  const length = at.get('bytes')?.scalar();
  if (
    length !== undefined &&
    !(typeof length === 'number' && Number.isInteger(length) && length > 0 && length <= 256)
  )
    at.need('bytes').fail('a length of 1 to 256 bytes', String(length));
  return { name, length: length as number | undefined, about: at.get('about')?.text() ?? '' };
}

function readMark(at: Located): Mark {
  at.entries(['at', 'text', 'hex']);
  const place = at.need('at').scalar();
  if (typeof place !== 'number' || !Number.isInteger(place) || place < 0 || place > 1 << 20)
    return at.need('at').fail('an offset of 0 to 1048576', String(place));
  const hex = at.get('hex');
  const bytes = hex
    ? fromHex(hex.text().replace(/\s/g, ''))
    : new TextEncoder().encode(at.need('text').text());
  if (!bytes || bytes.length === 0) return at.fail('at least one byte', 'none');
  return { at: place, bytes };
}

const optional = (at: Located | undefined, scope: ScriptScope): Compiled | undefined =>
  at && scope.expression(at);

function readPart(name: string, at: Located, scope: ScriptScope): PartType {
  at.entries(['type', 'at', 'if', 'count', 'next', 'align', 'about']);
  const type = at.need('type');
  if (!scope.recordNames.has(type.text()))
    type.fail('the name of a record', `'${type.text()}'`, suggest(type.text(), scope.recordNames));
  return {
    name,
    record: type.text(),
    at: scope.expression(at.need('at')),
    condition: optional(at.get('if'), scope),
    count: optional(at.get('count'), scope),
    next: optional(at.get('next'), scope),
    align: optional(at.get('align'), scope),
  };
}

function readEntries(at: Located, scope: ScriptScope): EntriesType {
  at.entries(['each', 'path', 'hash', 'hashing', 'names', 'size', 'payload', 'about']);
  const payload = at.need('payload');
  payload.entries(['at', 'size', 'align', 'seal', 'order']);
  if (!at.get('path') && !at.get('hash') && at.get('names')) at.fail("'hash' beside 'names'", 'nothing');
  const order = payload.get('order')?.text() ?? 'any';
  if (order !== 'any' && order !== 'kept') payload.need('order').fail('any or kept', order);
  return {
    each: scope.expression(at.need('each')),
    path: optional(at.get('path'), scope),
    hash: optional(at.get('hash'), scope),
    hashing: readHashing(at.get('hashing')),
    names: optional(at.get('names'), scope),
    size: scope.expression(at.need('size')),
    at: scope.expression(payload.need('at')),
    storedSize: scope.expression(payload.need('size')),
    align: optional(payload.get('align'), scope),
    seal: parseSeal(payload.get('seal'), scope),
    anyOrder: order === 'any',
  };
}

function readHashing(at: Located | undefined): NameHashing | undefined {
  if (!at) return undefined;
  at.entries(['function', 'case', 'separator']);
  const hash = at.need('function');
  if (!hashes.get(hash.text())) hash.fail('a hash', `'${hash.text()}'`, suggest(hash.text(), hashes.names()));
  const spelling = at.get('case')?.text() ?? 'kept';
  if (spelling !== 'kept' && spelling !== 'lower') at.need('case').fail('kept or lower', spelling);
  const separator = at.get('separator')?.text() ?? '/';
  if (separator !== '/' && separator !== '\\') return at.need('separator').fail('/ or \\', separator);
  return { hash: hash.text(), lowerCase: spelling === 'lower', separator };
}

function readPicture(at: Located | undefined, scope: ScriptScope): PictureType | undefined {
  if (!at) return undefined;
  at.entries(['width', 'height', 'layout', 'levels']);
  return {
    width: scope.expression(at.need('width')),
    height: scope.expression(at.need('height')),
    layout: scope.expression(at.need('layout')),
    levels: optional(at.get('levels'), scope),
  };
}

/** Words that a script may use, for completion in the editor. */
export const scriptWords = (): string[] => [...TOP, ...codecs.names(), ...ciphers.names(), ...hashes.names()];
