import { FORMATS } from '@/media/formats';
import type { MediumFormats } from './formats';
import { KINDS, type Kind } from './kinds';

/** The ending of a path in lower case, without its dot; empty for none. */
export function endingOf(path: string): string {
  const dot = path.lastIndexOf('.');
  return dot <= path.lastIndexOf('/') ? '' : path.slice(dot + 1).toLowerCase();
}

/** The name of a file without its folder and its ending. */
export const fileStem = (path: string): string =>
  path.slice(path.lastIndexOf('/') + 1).replace(/\.[^.]*$/, '');

type Sort = 'signed' | 'unsigned' | 'written';

/** Endings of one sort, with the kind that has each. */
const table = (sort: Sort): ReadonlyMap<string, Kind> =>
  new Map(
    KINDS.flatMap((kind) => {
      const { endings }: MediumFormats = FORMATS[kind];
      return (endings[sort]?.split(' ') ?? []).map((ending) => [ending, kind] as const);
    }),
  );
const signed = table('signed');
const unsigned = table('unsigned');
const written = table('written');

/** What a name says by itself, where nothing is known of the bytes. */
export const kindOfEnding = (path: string): Kind | undefined => {
  const ending = endingOf(path);
  return signed.get(ending) ?? unsigned.get(ending) ?? written.get(ending);
};

/** What a name says of bytes that begin with no sign of any format and are no text, as far as they may be what it says. */
export function kindOfUnsigned(path: string, head: Uint8Array): Kind | undefined {
  const ending = endingOf(path);
  const kind = unsigned.get(ending);
  const { endings }: MediumFormats = FORMATS[kind ?? 'data'];
  return endings.mayBe?.[ending]?.(head) === false ? undefined : kind;
}

/** What a name says of bytes that are a text; a text whatever it is called, but for formats that are written as texts. */
export const kindOfWritten = (path: string): Kind => written.get(endingOf(path)) ?? 'text';
