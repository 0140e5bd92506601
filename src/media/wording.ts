import { findingsOf, type Wording, type Words } from '@/core/fit';
import { filmWording } from './film/core/wording';
import { fontWording } from './font/core/wording';
import { modelWording } from './model/core/wording';
import { pictureWording } from './picture/core/wording';
import { soundWording } from './sound/core/wording';
import { tableWording } from './table/core/wording';
import { textWording } from './text/core/wording';

/** What is found where no medium knows the slot. */
const anyWording = {
  unknown: ({ is, was }: { is: number; was: number }): Words => ({
    what: `${is} bytes in the place of ${was}`,
    why: 'Nothing is known about this kind of entry, so its fit cannot be checked',
  }),
};
export const foundAnywhere = findingsOf<typeof anyWording>('any');

/** What is said of the findings of each medium, by the first word of their codes; a line a medium. */
export const WORDINGS: Readonly<Record<string, Wording>> = {
  any: anyWording,
  film: filmWording,
  font: fontWording,
  model: modelWording,
  picture: pictureWording,
  sound: soundWording,
  table: tableWording,
  text: textWording,
};
