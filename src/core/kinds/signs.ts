import { FORMATS } from '@/media/formats';
import type { MediumFormats, Sign } from './formats';
import { KINDS, type Kind } from './kinds';

/** A file type told from its first bytes, with the ending that such files usually bear. */
export interface HeadType {
  readonly kind: Kind;
  readonly ending: string;
}

/** RIFF with a form that nobody knows. */
const OTHER_RIFF: HeadType = { kind: 'data', ending: 'riff' };

function has(head: Uint8Array, { at, text }: Sign): boolean {
  if (head.length < at + text.length) return false;
  for (let i = 0; i < text.length; i++) if (head[at + i] !== text.charCodeAt(i)) return false;
  return true;
}

const latin = (head: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...head.subarray(from, to));

interface Known {
  readonly type: HeadType;
  readonly signs: readonly Sign[];
}

/** Tells types of files by the formats of some kinds. */
export class TypeTeller {
  /** By the first byte, since most heads begin with none of them. */
  private readonly byFirst = new Map<number, Known[]>();
  private readonly elsewhere: Known[] = [];
  private readonly riff = new Map<string, HeadType>();
  private readonly brands: { readonly brand: RegExp; readonly type: HeadType }[] = [];
  private readonly ogg: { readonly start: string; readonly type: HeadType }[] = [];
  private readonly plain: { ogg?: HeadType; iso?: HeadType } = {};
  private readonly tellers: {
    readonly first: number | undefined;
    readonly isIt: (head: Uint8Array) => boolean;
    readonly type: HeadType;
  }[] = [];
  private readonly byLength: {
    readonly kind: Kind;
    readonly tell: (head: Uint8Array, length: number) => string | undefined;
  }[] = [];

  constructor(all: readonly (readonly [Kind, MediumFormats])[]) {
    for (const [kind, formats] of all) this.add(kind, formats);
    // Of those that begin alike the one with more signs is the closer one.
    for (const list of this.byFirst.values()) list.sort((a, b) => b.signs.length - a.signs.length);
  }

  private add(kind: Kind, formats: MediumFormats): void {
    const { signs: signed, riff = {}, brands = [], ogg = [], plain = {}, tellers = [], byLength } = formats;
    for (const [ending, ...signs] of signed) {
      const known: Known = { type: { kind, ending }, signs };
      const [first] = signs;
      if (first!.at > 0) this.elsewhere.push(known);
      else {
        const byte = first!.text.charCodeAt(0);
        const list = this.byFirst.get(byte);
        if (list) list.push(known);
        else this.byFirst.set(byte, [known]);
      }
    }
    for (const [form, ending] of Object.entries(riff)) this.riff.set(form, { kind, ending });
    for (const [brand, ending] of brands) this.brands.push({ brand, type: { kind, ending } });
    for (const [start, ending] of ogg) this.ogg.push({ start, type: { kind, ending } });
    for (const { first, ending, isIt } of tellers) this.tellers.push({ first, isIt, type: { kind, ending } });
    if (plain.ogg !== undefined) this.plain.ogg = { kind, ending: plain.ogg };
    if (plain.iso !== undefined) this.plain.iso = { kind, ending: plain.iso };
    if (byLength) this.byLength.push({ kind, tell: byLength });
  }

  /** The type of a file by its first bytes, or undefined where they say nothing. Five hundred bytes tell all that can be told. */
  ofHead(head: Uint8Array): HeadType | undefined {
    if (head.length < 2) return undefined;
    for (const { type, signs } of this.byFirst.get(head[0]!) ?? [])
      if (signs.every((sign) => has(head, sign))) return type;
    return (
      this.inContainer(head) ??
      this.told(head, head[0]) ??
      this.elsewhere.find(({ signs }) => signs.every((sign) => has(head, sign)))?.type ??
      this.told(head, undefined)
    );
  }

  /**
   * Formats without a sign whose head says how long all of it is, which chance would hardly get right. The length is of all of the file
   * in bytes.
   */
  ofLength(head: Uint8Array, length: number): HeadType | undefined {
    for (const { kind, tell } of this.byLength) {
      const ending = tell(head, length);
      if (ending !== undefined) return { kind, ending };
    }
    return undefined;
  }

  private told(head: Uint8Array, first: number | undefined): HeadType | undefined {
    return this.tellers.find((one) => one.first === first && one.isIt(head))?.type;
  }

  /** A container that holds different things: RIFF by its form, Ogg by the codec that its first page begins, ISO base media by its brand. */
  private inContainer(head: Uint8Array): HeadType | undefined {
    if (head.length < 12) return undefined;
    if (has(head, { at: 0, text: 'RIFF' })) return this.riff.get(latin(head, 8, 12)) ?? OTHER_RIFF;
    if (has(head, { at: 0, text: 'OggS\0' })) {
      const first = latin(head, 28, 40);
      return this.ogg.find(({ start }) => first.startsWith(start))?.type ?? this.plain.ogg;
    }
    if (!has(head, { at: 4, text: 'ftyp' })) return undefined;
    const said = latin(head, 8, 12);
    return this.brands.find(({ brand }) => brand.test(said))?.type ?? this.plain.iso;
  }
}

const all: readonly (readonly [Kind, MediumFormats])[] = KINDS.map((kind) => [kind, FORMATS[kind]]);
const teller = new TypeTeller(all);

/** The type of a file by its first bytes, or undefined where they say nothing. Five hundred bytes tell all that can be told. */
export const typeOfHead = (head: Uint8Array): HeadType | undefined => teller.ofHead(head);
/** The type of a file whose head says how long it is. */
export const typeOfLength = (head: Uint8Array, length: number): HeadType | undefined =>
  teller.ofLength(head, length);

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

/** Whether files of a kind may name others by their paths. */
export const mayNameOthers = (kind: Kind): boolean => {
  const { namesOthers = true }: MediumFormats = FORMATS[kind];
  return namesOthers;
};
