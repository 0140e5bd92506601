import { FORMATS } from '@/media/formats';
import type { MediumFormats, Sign } from './formats';
import { KINDS, type Kind } from './kinds';

/** A file type told from its first bytes, with the ending that such files usually bear. */
export interface HeadType {
  readonly kind: Kind;
  readonly ending: string;
}

const all: readonly (readonly [Kind, MediumFormats])[] = KINDS.map((kind) => [kind, FORMATS[kind]]);

const CONTAINERS: ReadonlyMap<string, string> = new Map(
  all.flatMap(([, { containers = {} }]) => Object.entries(containers)),
);
/** The ending of the container that a file with an ending is: of a sound in Opus that of Ogg. */
export const containerOf = (ending: string): string => CONTAINERS.get(ending) ?? ending;

const SHOWN: ReadonlyMap<string, string> = new Map(
  all.flatMap(([, { shown = {} }]) => Object.entries(shown)),
);
/** The MIME type under which a page in the browser shows or plays such a file as it is; undefined where it does not. */
export const shownAs = (type: HeadType | undefined): string | undefined =>
  type && SHOWN.get(containerOf(type.ending));

interface Known {
  readonly type: HeadType;
  readonly signs: readonly Sign[];
}

/** By the first byte, since most heads begin with none of them. */
const BY_FIRST = new Map<number, Known[]>();
const ELSEWHERE: Known[] = [];
for (const [kind, { signs: formats }] of all)
  for (const [ending, ...signs] of formats) {
    const known: Known = { type: { kind, ending }, signs };
    if (signs[0]!.at > 0) ELSEWHERE.push(known);
    else {
      const byte = signs[0]!.text.charCodeAt(0);
      const list = BY_FIRST.get(byte);
      if (list) list.push(known);
      else BY_FIRST.set(byte, [known]);
    }
  }
// Of those that begin alike the one with more signs is the closer one.
for (const list of BY_FIRST.values()) list.sort((a, b) => b.signs.length - a.signs.length);

function has(head: Uint8Array, { at, text }: Sign): boolean {
  if (head.length < at + text.length) return false;
  for (let i = 0; i < text.length; i++) if (head[at + i] !== text.charCodeAt(i)) return false;
  return true;
}

const latin = (head: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...head.subarray(from, to));

const RIFF: ReadonlyMap<string, HeadType> = new Map(
  all.flatMap(([kind, { riff = {} }]) =>
    Object.entries(riff).map(([form, ending]) => [form, { kind, ending }] as const),
  ),
);
const BRANDS = all.flatMap(([kind, { brands = [] }]) =>
  brands.map(([brand, ending]) => ({ brand, type: { kind, ending } })),
);
const OGG = all.flatMap(([kind, { ogg = [] }]) =>
  ogg.map(([start, ending]) => ({ start, type: { kind, ending } })),
);
const TELLERS = all.flatMap(([kind, { tellers = [] }]) =>
  tellers.map(({ first, ending, isIt }) => ({ first, isIt, type: { kind, ending } })),
);
const plainOf = (container: 'ogg' | 'iso'): HeadType =>
  all.flatMap(([kind, { plain }]) => (plain?.[container] ? [{ kind, ending: plain[container] }] : []))[0]!;
const PLAIN_OGG = plainOf('ogg');
const PLAIN_ISO = plainOf('iso');
/** RIFF with a form that nobody knows. */
const OTHER_RIFF: HeadType = { kind: 'data', ending: 'riff' };

/** A container that holds different things: RIFF by its form, Ogg by the codec that its first page begins, ISO base media by its brand. */
function inContainer(head: Uint8Array): HeadType | undefined {
  if (head.length < 12) return undefined;
  if (has(head, { at: 0, text: 'RIFF' })) return RIFF.get(latin(head, 8, 12)) ?? OTHER_RIFF;
  if (has(head, { at: 0, text: 'OggS\0' })) {
    const first = latin(head, 28, 40);
    return OGG.find(({ start }) => first.startsWith(start))?.type ?? PLAIN_OGG;
  }
  if (!has(head, { at: 4, text: 'ftyp' })) return undefined;
  const said = latin(head, 8, 12);
  return BRANDS.find(({ brand }) => brand.test(said))?.type ?? PLAIN_ISO;
}

const BY_LENGTH = all.flatMap(([kind, { byLength }]) => (byLength ? [{ kind, byLength }] : []));

/**
 * Formats without a sign whose head says how long all of it is, or adds up, which chance would hardly get right. The length is of all of
 * the file in bytes.
 */
export function typeOfLength(head: Uint8Array, length: number): HeadType | undefined {
  for (const { kind, byLength } of BY_LENGTH) {
    const ending = byLength(head, length);
    if (ending !== undefined) return { kind, ending };
  }
  return undefined;
}

/** The type of a file by its first bytes, or undefined where they say nothing. Five hundred bytes tell all that can be told. */
export function typeOfHead(head: Uint8Array): HeadType | undefined {
  if (head.length < 2) return undefined;
  for (const { type, signs } of BY_FIRST.get(head[0]!) ?? [])
    if (signs.every((sign) => has(head, sign))) return type;
  const held = inContainer(head);
  if (held) return held;
  const tell = (first: number | undefined): HeadType | undefined =>
    TELLERS.find((one) => one.first === first && one.isIt(head))?.type;
  const first = tell(head[0]);
  if (first) return first;
  return ELSEWHERE.find(({ signs }) => signs.every((sign) => has(head, sign)))?.type ?? tell(undefined);
}
