import { endingOf, kindOfEnding, kindOfUnsigned, kindOfWritten } from './endings';
import type { Kind } from './kinds';
import { typeOfHead, typeOfLength } from './signs';
import { looksLikeText } from './text';

/** So many first bytes tell all that bytes can tell. */
export const START_BYTES = 512;

/** The first plain bytes of something. */
export interface Start {
  readonly bytes: Uint8Array;
  /** Bytes of all of it; undefined where that is not known before it is unpacked. */
  readonly length: number | undefined;
}

/** What format scripts say, the user's own first. */
export interface ScriptKind {
  readonly kind: Kind;
  /** Any one of these sets has to be there, each with all of its marks; offsets count from the end where they are negative. */
  readonly marks: readonly (readonly { readonly at: number; readonly bytes: Uint8Array }[])[];
  /** Endings of names, with their dots. */
  readonly endings: readonly string[];
  /** Whether the script states the kind; one that only follows from what it is for comes after the signs of open formats. */
  readonly isStated: boolean;
}

/** What the user said of this game: kinds of paths, and of endings. */
export interface SaidKinds {
  readonly paths: ReadonlyMap<string, Kind>;
  /** By the ending in lower case, without its dot. */
  readonly endings: ReadonlyMap<string, Kind>;
}
export const NOTHING_SAID: SaidKinds = { paths: new Map(), endings: new Map() };

export interface KindRules {
  readonly said: SaidKinds;
  readonly scripts: readonly ScriptKind[];
}
export const NO_RULES: KindRules = { said: NOTHING_SAID, scripts: [] };

/** A kind, and what it was told by. */
export interface Told {
  readonly kind: Kind;
  readonly by: 'user' | 'script' | 'bytes' | 'ending' | 'nothing';
}

/** What the user said of a path, or of its ending. */
export const saidOf = ({ paths, endings }: SaidKinds, path: string): Kind | undefined =>
  paths.get(path) ?? (endings.size > 0 ? endings.get(endingOf(path)) : undefined);

/**
 * What a thing is: what the user said, else what a format script states of its marks, else its first bytes, else its ending. Where
 * nothing is known of the bytes (`start` undefined), scripts and formats go by the ending alone.
 */
export function tellKind(path: string, start: Start | undefined, { said, scripts }: KindRules): Told {
  const own = saidOf(said, path);
  if (own) return { kind: own, by: 'user' };
  if (!start || start.bytes.length === 0) return fromName(path, scripts);
  const told = fromBytes(start, scripts);
  if (told) return told;
  const { bytes, length } = start;
  if (looksLikeText(bytes, length === bytes.length)) return { kind: kindOfWritten(path), by: 'bytes' };
  const script = scripts.find((one) => one.marks.length === 0 && bearsEnding(path, one));
  if (script) return { kind: script.kind, by: 'script' };
  const kind = kindOfUnsigned(path, bytes);
  return kind ? { kind, by: 'ending' } : { kind: 'data', by: 'nothing' };
}

function fromBytes(start: Start, scripts: readonly ScriptKind[]): Told | undefined {
  const { bytes, length } = start;
  const script = scripts.find(({ marks }) => marks.some((set) => set.every((mark) => isAt(start, mark))));
  if (script?.isStated) return { kind: script.kind, by: 'script' };
  const type = typeOfHead(bytes) ?? (length === undefined ? undefined : typeOfLength(bytes, length));
  if (type) return { kind: type.kind, by: 'bytes' };
  return script && { kind: script.kind, by: 'script' };
}

function fromName(path: string, scripts: readonly ScriptKind[]): Told {
  const script = scripts.find((one) => bearsEnding(path, one));
  if (script) return { kind: script.kind, by: 'script' };
  const kind = kindOfEnding(path);
  return kind ? { kind, by: 'ending' } : { kind: 'data', by: 'nothing' };
}

/** Whether a mark is there, as far as the bytes were read. */
function isAt({ bytes, length }: Start, { at, bytes: wanted }: ScriptKind['marks'][number][number]): boolean {
  const from = at < 0 ? (length ?? Number.NaN) + at : at;
  if (!(from >= 0 && from + wanted.length <= bytes.length)) return false;
  for (let i = 0; i < wanted.length; i++) if (bytes[from + i] !== wanted[i]) return false;
  return true;
}

function bearsEnding(path: string, { endings }: ScriptKind): boolean {
  if (endings.length === 0) return false;
  const name = path.toLowerCase();
  return endings.some((ending) => name.endsWith(ending.toLowerCase()));
}
