import { fromHex } from '../bytes';
import type { Located } from './located';
import { readNumberNames } from './number-names';
import { oneOf, optional, type ScriptScope } from './scope';
import { TEXT_ENCODINGS } from './texts';
import type {
  Compiled,
  FilmTrackType,
  FontType,
  LinesType,
  PaletteType,
  PictureType,
  SoundType,
  TableColumn,
  TableType,
} from './types';

/** Sections of scripts that are to come: their names are kept for them. */
export const KEPT_SECTIONS = ['film'] as const;

const FILM_WORDS = ['track', 'language', 'demuxer', 'cut', 'time', 'per second', 'subtitles'];

/** What a script says of the entries of a film. */
export function readFilmTrack(at: Located | undefined, scope: ScriptScope): FilmTrackType | undefined {
  if (!at) return undefined;
  at.entries(FILM_WORDS);
  const time = at.get('time');
  const names = time?.text().split('.');
  const unknown = names?.find((name) => !scope.known.others.has(name));
  if (unknown !== undefined)
    time!.fail('a field of the pieces, or of a record in them, as head.time', `'${unknown}'`);
  if (at.get('cut') && !time) at.get('cut')!.fail("'time' beside it", 'none');
  const subtitles = at.get('subtitles');
  subtitles?.entries(['word', 'tables']);
  return {
    track: scope.expression(at.need('track')),
    language: optional(at.get('language'), scope),
    demuxer: optional(at.get('demuxer'), scope),
    cut: optional(at.get('cut'), scope),
    time: names,
    perSecond: optional(at.get('per second'), scope),
    subtitles: subtitles && {
      word: subtitles.need('word').text(),
      tables: subtitles.need('tables').text(),
    },
  };
}

/** Refuses sections whose meaning is not settled, so that no script comes to mean something else later. */
export function refuseKept(top: Located): void {
  for (const word of KEPT_SECTIONS)
    top
      .get(word)
      ?.fail(
        "a section 'picture', 'sound', 'model', 'lines', 'font' or 'table'",
        `'${word}'`,
        "What an entry is to a film stands in 'film' of the entries of an archive",
      );
}

const SEVERAL = ['frames', 'faces', 'layers'] as const;

/** What a script says of its pictures. */
export function readPicture(at: Located | undefined, scope: ScriptScope): PictureType | undefined {
  if (!at) return undefined;
  at.entries([
    ...['width', 'height', 'layout', 'levels', 'first', 'rows', 'planes', 'palette'],
    ...['see-through colour', 'several', 'origin'],
  ]);
  const rows = at.get('rows');
  rows?.entries(['align', 'bytes', 'bottom first', 'interlace']);
  const origin = at.get('origin');
  origin?.entries(['x', 'y']);
  const several = at.get('several');
  const key = at.get('see-through colour');
  return {
    width: scope.expression(at.need('width')),
    height: scope.expression(at.need('height')),
    layout: scope.expression(at.need('layout')),
    levels: optional(at.get('levels'), scope),
    first: optional(at.get('first'), scope),
    rows: rows && {
      align: optional(rows.get('align'), scope),
      bytes: optional(rows.get('bytes'), scope),
      bottomFirst: optional(rows.get('bottom first'), scope),
      interlace: optional(rows.get('interlace'), scope),
    },
    planes: readPlanes(at.get('planes'), scope),
    palette: readPalette(at.get('palette'), scope),
    key: key && readColour(key),
    several: several && oneOf(several, SEVERAL, 'frames'),
    origin: origin && { x: scope.expression(origin.need('x')), y: scope.expression(origin.need('y')) },
  };
}

function readPlanes(at: Located | undefined, scope: ScriptScope): PictureType['planes'] {
  if (!at) return undefined;
  at.entries(['of', 'count', 'by']);
  const of = oneOf(at.need('of'), ['bits', 'channels', 'columns'], 'bits');
  if (of !== 'channels') at.need('count');
  return {
    of,
    count: optional(at.get('count'), scope),
    by: oneOf(at.get('by'), ['row', 'picture'], 'row'),
  };
}

function readPalette(at: Located | undefined, scope: ScriptScope): PaletteType | undefined {
  if (!at) return undefined;
  at.entries(['bytes', 'entry', 'skip', 'colours', 'layout', 'see-through']);
  const clear = optional(at.get('see-through'), scope);
  const layout = optional(at.get('layout'), scope);
  const [bytes, path, colours] = [at.get('bytes'), at.get('entry'), at.get('colours')];
  if ([bytes, path, colours].filter(Boolean).length !== 1)
    return at.fail("one of 'bytes', 'entry' or 'colours'", 'none, or several');
  if (bytes) return { from: { sort: 'bytes', bytes: scope.expression(bytes) }, layout, clear };
  if (path)
    return {
      from: { sort: 'entry', path: scope.expression(path), skip: optional(at.get('skip'), scope) },
      ...{ layout, clear },
    };
  if (layout) at.need('layout').fail("no 'layout' where colours are written out", 'one');
  const items = colours!.items();
  if (items.length < 1 || items.length > 256) return colours!.fail('1 to 256 colours', String(items.length));
  const written = new Uint8Array(4 * items.length);
  for (const [i, item] of items.entries()) written.set(readColour(item), 4 * i);
  return { from: { sort: 'written', colours: written }, layout: undefined, clear };
}

/** A colour written as `#rrggbb` or `#rrggbbaa`, as four bytes. */
function readColour(at: Located): Uint8Array {
  const text = at.text();
  const bytes = /^#(?:[0-9a-f]{6}|[0-9a-f]{8})$/i.test(text) ? fromHex(text.slice(1)) : undefined;
  if (!bytes) return at.fail("a colour in quotes, as '#ff8000' or '#ff8000c0'", text);
  return Uint8Array.of(bytes[0]!, bytes[1]!, bytes[2]!, bytes[3] ?? 255);
}

const SOUND_WORDS = [
  ...['codec', 'demuxer', 'decoder', 'rate', 'channels', 'bits', 'order', 'signed', 'first', 'samples'],
  ...['block', 'heads', 'high first', 'turn', 'start', 'loop', 'markers', 'lips', 'longest'],
];
/** So many ways to read the same bytes are tried at most. */
const MOST_OTHERS = 7;

/** What a script says of its sounds. */
export function readSound(at: Located | undefined, scope: ScriptScope): SoundType | undefined {
  if (!at) return undefined;
  at.entries([...SOUND_WORDS, 'or']);
  const first = readWay(at, scope, undefined);
  const others = at.get('or')?.items() ?? [];
  if (others.length > MOST_OTHERS)
    at.get('or')!.fail(`at most ${MOST_OTHERS} other ways`, `${others.length}`);
  return {
    ...first,
    others: others.map((other) => {
      other.entries(SOUND_WORDS);
      return readWay(other, scope, first);
    }),
  };
}

/** One way to read a sound; what it does not say is as in the way that is said first. */
function readWay(at: Located, scope: ScriptScope, first: SoundType | undefined): SoundType {
  const loop = at.get('loop');
  loop?.entries(['from', 'to']);
  const order = at.get('order');
  const said = (word: string, otherwise: Compiled | undefined): Compiled | undefined =>
    optional(at.get(word), scope) ?? otherwise;
  const usual = first?.order ?? (scope.order === 'big' ? 'big' : 'little');
  return {
    codec: first && !at.get('codec') ? first.codec : scope.expression(at.need('codec')),
    demuxer: said('demuxer', first?.demuxer),
    decoder: said('decoder', first?.decoder),
    rate: said('rate', first?.rate),
    channels: said('channels', first?.channels),
    bits: said('bits', first?.bits),
    order: oneOf(order, ['little', 'big'], usual),
    isSigned: said('signed', first?.isSigned),
    block: said('block', first?.block),
    heads: said('heads', first?.heads),
    highFirst: said('high first', first?.highFirst),
    turn: said('turn', first?.turn),
    start: said('start', first?.start),
    first: said('first', first?.first),
    samples: said('samples', first?.samples),
    loop: loop
      ? { from: scope.expression(loop.need('from')), to: scope.expression(loop.need('to')) }
      : first?.loop,
    markers: said('markers', first?.markers),
    lips: said('lips', first?.lips),
    longest: said('longest', first?.longest),
    others: [],
  };
}

/** What a script says of the texts that the entries of its files are. */
export function readLines(at: Located | undefined, scope: ScriptScope): LinesType | undefined {
  if (!at) return undefined;
  at.entries([
    ...['encoding', 'ends', 'key', 'language', 'speaker', 'note'],
    ...['limit', 'limit in', 'width', 'font'],
  ]);
  return {
    encoding: oneOf(at.get('encoding'), TEXT_ENCODINGS, 'utf-8'),
    ends: optional(at.get('ends'), scope),
    key: optional(at.get('key'), scope),
    language: optional(at.get('language'), scope),
    speaker: optional(at.get('speaker'), scope),
    note: optional(at.get('note'), scope),
    limit: optional(at.get('limit'), scope),
    limitIn: oneOf(at.get('limit in'), ['bytes', 'characters'], 'bytes'),
    width: optional(at.get('width'), scope),
    font: optional(at.get('font'), scope),
  };
}

/** What a script says of the rows of a table. */
export function readTable(at: Located | undefined, scope: ScriptScope): TableType | undefined {
  if (!at) return undefined;
  at.entries(['name', 'columns']);
  const columns = at
    .need('columns')
    .entries()
    .map(([title, value]) => readColumn(title, value, scope));
  if (columns.length === 0) at.need('columns').fail('at least one column', 'none');
  return { name: optional(at.get('name'), scope), columns };
}

/** A column: an expression, or that with the table whose rows its values are, or with what its numbers are called. */
function readColumn(title: string, at: Located, scope: ScriptScope): TableColumn {
  if (!at.isMapping()) return { title, value: scope.expression(at), means: undefined, called: undefined };
  at.entries(['value', 'means', 'names', 'flags']);
  const [means, called] = [at.get('means')?.text(), readNumberNames(at)];
  return { title, value: scope.expression(at.need('value')), means, called };
}

/** What a script says of the signs of a font. */
export function readFont(at: Located | undefined, scope: ScriptScope): FontType | undefined {
  if (!at) return undefined;
  at.entries(['sign', 'width']);
  return { sign: scope.expression(at.need('sign')), width: optional(at.get('width'), scope) };
}
