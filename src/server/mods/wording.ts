import {
  errorSaid,
  findingsOf,
  worded,
  type ErrorKept,
  type Finding,
  type WordedFinding,
  type Words,
} from '@/core/fit';
import { WORDINGS } from '@/media/wording';

/** What is found about a change beside what its medium finds. */
const changeWording = {
  hidden: ({ archive }: { archive: string | null }): Words => ({
    what: `hidden by ${archive ?? 'another archive'}`,
    why: 'That archive answers for this path, so the game will not see the change; replace the entry there instead',
  }),
  'left-half': ({ name, role }: { name: string; role: string }): Words => ({
    what: `${name} is left as it is`,
    why: `It is the ${role} half of the same sheet: ${role === 'far' ? 'from afar' : 'from near by'} the game goes on showing the old picture`,
  }),
  'left-sheet': ({ name, role }: { name: string; role: string }): Words => ({
    what: `${name} is left as it is`,
    why: `It is the ${role} sheet of the same set; look whether it still suits the new picture`,
  }),
  'left-take': ({ name, tongue }: { name: string; tongue: string }): Words => ({
    what: `${name} is left as it is`,
    why:
      tongue === ''
        ? 'It is the same line, under a path that names no language; players of other languages may go on hearing the old one'
        : `It is the same line in ${tongue}; players of that language go on hearing the old one`,
  }),
  'desk-lines': ({ count }: { count: number }): Words => ({
    what: `${count} ${count === 1 ? 'line' : 'lines'} from the text desk`,
    why: 'They are laid over what was given',
  }),
  added: ({ bytes, like }: { bytes: number; like: string }): Words => ({
    what: `${bytes} bytes, taken as given`,
    why: `Stored as ${like} is: packed, locked and checked in the same way`,
  }),
  'made-like': ({ like }: { like: string }): Words => ({
    what: `made like ${like}`,
    why: 'It has the format that the new path says',
  }),
  opens: ({ title, count }: { title: string; count: number }): Words => ({
    what: `opens as ${title}`,
    why: `By the script and the key of the old one, with ${count} ${count === 1 ? 'entry' : 'entries'} that all hold`,
  }),
  'does-not-open': ({ title, isKey, error }: { title: string; isKey: boolean; error: ErrorKept }): Words => ({
    what: isKey ? 'not keyed as the game expects, or damaged' : `does not open as ${title}`,
    why: `${errorSaid(error)} The game would hang or stop there. ${
      isKey
        ? 'Change what is in it instead; it is keyed again when it is built'
        : 'Give a file of that format'
    }`,
  }),
  pieces: ({ count, seconds }: { count: number; seconds: number }): Words => ({
    what: `${count} ${count === 1 ? 'piece' : 'pieces'}, the last of them at ${Math.round(seconds * 100) / 100} s`,
    why: 'It is cut where they end, and interleaved with the other streams by their times',
  }),
  'no-pieces': ({ error }: { error: ErrorKept }): Words => ({
    what: 'no stream that can be cut into pieces',
    why: `${errorSaid(error)} The archive keeps it in pieces with times; give a stream of the same form, or make a film of what you have on the page of the film`,
  }),
  'taken-out': (): Words => ({
    what: 'taken out of the archive',
    why: 'What asks for it will not find it, or finds that of an archive loaded earlier',
  }),
  /** What versions before codes found, as they said it. */
  told: (words: Words): Words => words,
};

export const foundInChange = findingsOf<typeof changeWording>('change');

const ALL = { ...WORDINGS, change: changeWording };

/** A finding as it is shown. */
export const said = (finding: Finding): WordedFinding => worded(finding, ALL);
