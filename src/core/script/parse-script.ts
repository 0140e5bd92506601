import { compileExpression, type KnownNames } from './compile-expression';
import { parseEntries, payloadFieldsOf, readShown } from './parse-entries';
import { innerFieldsOf, parseFiles, readFileChoice } from './parse-files';
import { mediumIn, readRecognition } from './parse-marks';
import {
  KEPT_SECTIONS,
  readFont,
  readLines,
  readPicture,
  readSound,
  readTable,
  refuseKept,
} from './parse-media';
import { readModel } from './parse-model';
import { fieldNames, parseRecords, readRepeat, refuseReserved } from './parse-records';
import { oneOf, optional, suggest, type ScriptScope } from './scope';
import { readYaml, type Located } from './located';
import type { FileType, KeyType, ParameterType, PartType, RecordType, Script } from './types';
import type { Value } from './values';

const TOP = [
  'format script',
  'title',
  'about',
  'author',
  'terms',
  'tried on',
  'meant for',
  'for',
  'kind',
  'recognise',
  'endings',
  'byte order',
  'keys',
  'parameters',
  'constants',
  'enums',
  'records',
  'files',
  'parts',
  'entries',
  'picture',
  'sound',
  'model',
  'lines',
  'font',
  'table',
  ...KEPT_SECTIONS,
  'tells',
  'loads by',
  'most bytes',
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
  refuseKept(top);
  const version = top.need('format script');
  if (version.text() !== VERSION) version.fail(`version ${VERSION}`, version.text());
  const named = <T>(name: (typeof TOP)[number], read: (name: string, at: Located) => T): Map<string, T> =>
    new Map((top.get(name)?.entries() ?? []).map(([word, value]) => [word, read(word, value)]));

  const constants = named('constants', (_name, value): Value => value.scalar());
  const keys = named('keys', readKey);
  const parameters = named('parameters', readParameter);
  const enums = named(
    'enums',
    (_name, at) => new Map(at.entries().map(([word, value]): [string, Value] => [word, value.scalar()])),
  );
  const records = top.need('records');
  const parts = top.need('parts');
  for (const [name, part] of parts.entries()) refuseReserved(name, part);
  for (const [name, value] of top.get('constants')?.entries() ?? []) refuseReserved(name, value);
  const others = new Set(parts.entries().map(([name]) => name));
  for (const [, record] of records.entries()) for (const field of fieldNames(record)) others.add(field);

  const known: KnownNames = {
    constants,
    keys: new Set(keys.keys()),
    parameters: new Set(parameters.keys()),
    enums,
    others,
  };
  const orderAt = top.get('byte order');
  if (orderAt?.isMapping()) orderAt.entries(['big if']);
  const scope: ScriptScope = {
    known,
    recordNames: new Set(records.entries().map(([name]) => name)),
    order: orderAt?.isMapping() ? 'ruled' : oneOf(orderAt, ['little', 'big'], 'little'),
    expression: (at, given, textOffset) =>
      at.locate(() => compileExpression(given ?? at.text(), known), textOffset),
  };
  const textOf = (name: (typeof TOP)[number]): string => top.get(name)?.text() ?? '';
  const listOf = (name: (typeof TOP)[number]): string[] =>
    top
      .get(name)
      ?.items()
      .map((item) => item.text()) ?? [];
  const entries = top.need('entries');
  const payloadFields = payloadFieldsOf(entries);
  for (const field of innerFieldsOf(top.get('files'))) payloadFields.add(field);
  const files = parseFiles(top.get('files'), scope);
  const types = parseRecords(records, scope, payloadFields);
  // Whoever writes a model anew sets numbers of its rows, which are few.
  if (top.get('model')) for (const type of types.values()) type.flat = false;
  const partTypes = parts.entries().map(([name, part], index) => readPart(name, index, part, scope, files));
  const script: Script = {
    title: top.need('title').text(),
    about: textOf('about'),
    author: textOf('author'),
    terms: textOf('terms'),
    triedOn: listOf('tried on'),
    meantFor: listOf('meant for'),
    text,
    ...readRecognition(
      top,
      mediumIn((section) => top.get(section) !== undefined),
    ),
    keys,
    parameters,
    constants,
    records: types,
    files,
    parts: partTypes,
    entries: parseEntries(entries, scope, files),
    orderRule: orderAt?.isMapping() ? scope.expression(orderAt.need('big if')) : undefined,
    picture: readPicture(top.get('picture'), scope),
    sound: readSound(top.get('sound'), scope),
    lines: readLines(top.get('lines'), scope),
    font: readFont(top.get('font'), scope),
    table: readTable(top.get('table'), scope),
    model: readModel(top.get('model'), scope),
    tells: readShown(top.get('tells'), scope),
    loadsBy: readLoadsBy(top.get('loads by'), partTypes, types),
    mostBytes: optional(top.get('most bytes'), scope),
  };
  return script;
}

/** The number that archives are loaded by: a carried field of a part, written `part.field`. */
function readLoadsBy(
  at: Located | undefined,
  parts: readonly PartType[],
  records: ReadonlyMap<string, RecordType>,
): Script['loadsBy'] {
  if (!at) return undefined;
  const [part = '', field = '', ...more] = at.text().split('.');
  const own = parts.find(({ name, repeat, each, next }) => name === part && !repeat && !each && !next);
  const type = own && records.get(own.record);
  const known = type?.fields.find(({ name }) => name === field);
  if (more.length > 0 || known?.role.sort !== 'carried' || known.shape.sort !== 'scalar' || known.repeat)
    at.fail('a number that is carried, as part.field', at.text());
  return { part, field };
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

function readParameter(name: string, at: Located): ParameterType {
  at.entries(['default', 'one of', 'about']);
  return {
    name,
    about: at.get('about')?.text() ?? '',
    default: at.need('default').scalar(),
    oneOf: at
      .get('one of')
      ?.items()
      .map((item): Value => item.scalar()),
  };
}

function readPart(
  name: string,
  index: number,
  at: Located,
  scope: ScriptScope,
  files: ReadonlyMap<string, FileType>,
): PartType {
  at.entries(['type', 'in', 'at', 'if', 'count', 'until', 'while', 'next', 'each', 'align', 'about']);
  const type = at.need('type');
  if (!scope.recordNames.has(type.text()))
    type.fail('the name of a record', `'${type.text()}'`, suggest(type.text(), scope.recordNames));
  const file = readFileChoice(at.get('in'), scope, files, 'each');
  if (file && !file.number && files.get(file.name)!.several)
    for (const word of ['count', 'until', 'while', 'next', 'each'] as const)
      if (at.get(word)) at.need(word).fail('one record in each file, or the number of a file', `'${word}'`);
  return {
    name,
    index,
    record: type.text(),
    at: scope.expression(at.need('at')),
    condition: optional(at.get('if'), scope),
    repeat: readRepeat(at, scope),
    next: optional(at.get('next'), scope),
    each: optional(at.get('each'), scope),
    align: optional(at.get('align'), scope),
    file,
  };
}
