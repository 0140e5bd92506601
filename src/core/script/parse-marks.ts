import { FormatError, fromHex } from '../bytes';
import { KINDS, type Kind } from '../kinds';
import { readYaml, type Located } from './located';
import { oneOf } from './scope';
import type { Mark, Recognition } from './types';

/** Sections that describe a medium, and what their files are. */
const MEDIA = new Map<string, Kind>([
  ['picture', 'picture'],
  ['sound', 'sound'],
  ['model', 'model'],
  ['lines', 'text'],
  ['font', 'font'],
  ['table', 'table'],
]);

/** The medium that a script describes, where it describes one. */
export const mediumIn = (has: (section: string) => boolean): Kind | undefined =>
  MEDIA.get([...MEDIA.keys()].find(has) ?? '');

/** Reads what a script says of the files that are its own: `recognise`, `endings`, `for` and `kind`. */
export function readRecognition(top: Located, medium: Kind | undefined): Recognition {
  const marks = top.need('recognise').items().map(readMarks);
  const endings = (top.get('endings')?.items() ?? []).map((item) => item.text());
  if (marks.length === 0 && endings.length === 0)
    top.need('recognise').fail("at least one mark, or 'endings' of file names", 'none');
  const said = oneOf(top.get('for'), ['archives', 'files'], 'archives');
  // What describes a medium is for its files, whatever it says.
  const isForFiles = medium !== undefined || said === 'files';
  const kind = top.get('kind');
  const implied = medium ?? (isForFiles ? undefined : 'archive');
  return {
    marks,
    endings,
    isForFiles,
    kind: kind ? oneOf(kind, KINDS, 'data') : implied,
    isKindStated: kind !== undefined,
  };
}

/**
 * What a script recognises, from its text without reading the rest of it, which takes a fiftieth of the time; a shelf of
 * scripts is looked through for one. Undefined where it is not written so that this can be told.
 */
export function recognitionIn(text: string): Recognition | undefined {
  // A section reaches to the next line that begins with a letter.
  const sections = [...text.matchAll(/^(?:recognise|endings|for|kind):.*(?:\r?\n(?![A-Za-z'"]).*)*/gm)];
  try {
    return readRecognition(
      readYaml(sections.map(([section]) => section).join('\n')),
      mediumIn((section) => new RegExp(`^${section}:`, 'm').test(text)),
    );
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

/** A mark, or a list of marks that must all be there. */
const readMarks = (at: Located): Mark[] => (at.isList() ? at.items().map(readMark) : [readMark(at)]);

function readMark(at: Located): Mark {
  at.entries(['at', 'text', 'hex']);
  const place = at.need('at').scalar();
  if (typeof place !== 'number' || !Number.isInteger(place) || Math.abs(place) > 1 << 20)
    return at
      .need('at')
      .fail('an offset of at most 1048576, counted from the end where it is negative', String(place));
  const hex = at.get('hex');
  const bytes = hex
    ? fromHex(hex.text().replace(/\s/g, ''))
    : new TextEncoder().encode(at.need('text').text());
  if (!bytes || bytes.length === 0) return at.fail('at least one byte', 'none');
  return { at: place, bytes };
}
