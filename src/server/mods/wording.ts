import { findingsOf, worded, type Finding, type WordedFinding, type Words } from '@/core/fit';
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
  added: ({ bytes, like }: { bytes: number; like: string }): Words => ({
    what: `${bytes} bytes, taken as given`,
    why: `Stored as ${like} is: packed, locked and checked in the same way`,
  }),
  'made-like': ({ like }: { like: string }): Words => ({
    what: `made like ${like}`,
    why: 'It has the format that the new path says',
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
