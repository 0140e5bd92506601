import { hashes } from '../hashes';
import type { Located } from './located';
import { parseSeal } from './parse-seal';
import { byteValue, oneOf, optional, suggest, type ScriptScope } from './scope';
import { TEXT_ENCODINGS } from './texts';
import { readFileChoice } from './parse-files';
import { mediumIn } from './parse-marks';
import { readModelStream } from './parse-model';
import { readFilmTrack, readPicture, readSound } from './parse-media';
import type { EntriesType, FileType, NameHashing, PayloadType } from './types';

const WORDS = [
  'each',
  'where',
  'path',
  'hash',
  'hashing',
  'names',
  'size',
  'modified',
  'sorted',
  'show',
  'payload',
  'picture',
  'sound',
  'film',
  'model',
  'about',
];
const PAYLOAD_WORDS = [
  'in',
  'at',
  'from',
  'field',
  'of',
  'pieces',
  'unit',
  'size',
  'align',
  'fill',
  'seal',
  'order',
  'identical',
];

const groups = (at: Located): Located[] => (at.isList() ? at.items() : [at]);

/** Names of fields in which entries keep their bytes; known before the records are read. */
export function payloadFieldsOf(at: Located): Set<string> {
  const names = new Set<string>();
  for (const group of groups(at)) {
    const field = group.get('payload')?.get('field');
    if (field) names.add(field.text());
  }
  return names;
}

/** Reads one group of entries or a list of them. */
export const parseEntries = (
  at: Located,
  scope: ScriptScope,
  files: ReadonlyMap<string, FileType>,
): EntriesType[] => groups(at).map((group) => readGroup(group, scope, files));

function readGroup(at: Located, scope: ScriptScope, files: ReadonlyMap<string, FileType>): EntriesType {
  at.entries(WORDS);
  const payload = at.need('payload');
  payload.entries(PAYLOAD_WORDS);
  if (!at.get('path') && !at.get('hash') && at.get('names')) at.fail("'hash' beside 'names'", 'nothing');
  const type = readPayload(payload, scope, files);
  return {
    each: scope.expression(at.need('each')),
    where: optional(at.get('where'), scope),
    path: optional(at.get('path'), scope),
    hash: optional(at.get('hash'), scope),
    hashing: readHashing(at.get('hashing'), scope),
    names: optional(at.get('names'), scope),
    size: optional(at.get('size'), scope),
    modified: optional(at.get('modified'), scope),
    sorted: optional(at.get('sorted'), scope),
    shown: readShown(at.get('show'), scope),
    payload: type,
    align: optional(payload.get('align'), scope),
    fill: byteValue(payload.get('fill'), 0),
    seal: parseSeal(payload.get('seal'), scope),
    anyOrder: oneOf(payload.get('order'), ['any', 'kept'], 'any') === 'any' && type.sort === 'placed',
    identical: oneOf(payload.get('identical'), ['once', 'each'], 'each'),
    ...readMedia(at, scope),
  };
}

/** Sections that say what the entries of a file are together; by itself an entry is none. */
const OF_FILES = new Set(['model', 'lines', 'font', 'table']);

/** What the entries of a group are: pictures or sounds that the archive describes. */
function readMedia(
  at: Located,
  scope: ScriptScope,
): Pick<EntriesType, 'picture' | 'sound' | 'film' | 'model' | 'kind'> {
  const [picture, sound] = [at.get('picture'), at.get('sound')];
  if (picture && sound) sound.fail("either 'picture' or 'sound'", 'both');
  picture
    ?.get('several')
    ?.fail("no 'several' here", 'one', 'Each entry of the group is a picture of its own');
  // What is said of a model here is what the entry is to it; by itself it is none.
  const kind = mediumIn((section) => !OF_FILES.has(section) && at.get(section) !== undefined);
  const model = readModelStream(at.get('model'), scope);
  const film = readFilmTrack(at.get('film'), scope);
  return { picture: readPicture(picture, scope), sound: readSound(sound, scope), film, model, kind };
}

/** More columns than this no list has room for. */
const MOST_SHOWN = 8;

/** Titles with an expression each, of what lists show. */
export function readShown(at: Located | undefined, scope: ScriptScope): EntriesType['shown'] {
  const shown = at?.entries().map(([title, value]) => ({ title, value: scope.expression(value) })) ?? [];
  for (const { title } of shown)
    if (!/^[a-z][a-z0-9_-]{0,30}$/i.test(title))
      at!.fail('a title of letters, digits, - and _', `'${title}'`, 'It is searched for as title:value');
  if (shown.length > MOST_SHOWN) at!.fail(`at most ${MOST_SHOWN} fields to show`, `${shown.length}`);
  return shown;
}

function readPayload(at: Located, scope: ScriptScope, files: ReadonlyMap<string, FileType>): PayloadType {
  const kinds = (['at', 'from', 'field'] as const).filter((word) => at.get(word));
  if (kinds.length !== 1) return at.fail("one of 'at', 'from' and 'field'", kinds.join(' and ') || 'none');
  const field = at.get('field');
  if (field) {
    for (const word of ['in', 'size', 'align'] as const)
      if (at.get(word))
        at.need(word).fail('only a seal beside a field', word, 'The field itself says where the bytes are');
    if (!scope.known.others.has(field.text()))
      field.fail('the name of a field', `'${field.text()}'`, suggest(field.text(), scope.known.others));
    const pieces = at.get('pieces');
    if (pieces && at.get('of')) at.need('of').fail("either 'of' or 'pieces'", 'both');
    if (pieces)
      return {
        sort: 'pieces',
        pieces: scope.expression(pieces),
        field: field.text(),
        unit: optional(at.get('unit'), scope),
      };
    return { sort: 'field', field: field.text(), of: optional(at.get('of'), scope) };
  }
  const size = scope.expression(at.need('size'));
  const from = at.get('from');
  const file = readFileChoice(at.get('in'), scope, files, 'one');
  if (from) return { sort: 'in order', from: scope.expression(from), size, file };
  return { sort: 'placed', at: scope.expression(at.need('at')), size, file };
}

function readHashing(at: Located | undefined, scope: ScriptScope): NameHashing | undefined {
  if (!at) return undefined;
  at.entries([
    'function',
    'seed',
    'case',
    'separator',
    'extension',
    'encoding',
    'before',
    'behind',
    'half',
    'bits',
  ]);
  const hash = at.need('function');
  if (!hashes.get(hash.text())) hash.fail('a hash', `'${hash.text()}'`, suggest(hash.text(), hashes.names()));
  const half = at.get('half');
  const bits = at.get('bits')?.scalar() ?? 64;
  if (typeof bits !== 'number' || bits < 8 || bits > 64 || bits % 8 !== 0)
    return at.need('bits').fail('8 to 64 bits in whole bytes', String(bits));
  return {
    hash: hash.text(),
    seed: optional(at.get('seed'), scope),
    spelling: oneOf(at.get('case'), ['kept', 'lower', 'upper'], 'kept'),
    separator: at.get('separator')?.text() ?? '/',
    extension: oneOf(at.get('extension'), ['kept', 'dropped'], 'kept'),
    encoding: oneOf(at.get('encoding'), TEXT_ENCODINGS, 'utf-8'),
    before: at.get('before')?.text() ?? '',
    behind: at.get('behind')?.text() ?? '',
    half: half && oneOf<'first' | 'last'>(half, ['first', 'last'], 'first'),
    bits,
  };
}
