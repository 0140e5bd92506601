import type { Kind } from '@/core/kinds';
import { archiveWays } from './archive/core/ways';
import { filmWays } from './film/core/ways';
import { fontWays } from './font/core/ways';
import { modelWays } from './model/core/ways';
import { pictureWays } from './picture/core/ways';
import { soundWays } from './sound/core/ways';
import { tableWays } from './table/core/ways';
import { textWays } from './text/core/ways';
import type { MediumWays, Way } from './way';

export type { MediumWays, Way } from './way';

/** How entries of each kind can be taken out; a line a medium. Others are taken as they are stored. */
export const WAYS: Readonly<Partial<Record<Kind, MediumWays>>> = {
  picture: pictureWays,
  sound: soundWays,
  film: filmWays,
  model: modelWays,
  text: textWays,
  font: fontWays,
  table: tableWays,
  archive: archiveWays,
};

/** The kinds that can be taken out in several ways, in the order of choices. */
export const MEDIA_WAYS: readonly (readonly [Kind, MediumWays])[] = Object.entries(WAYS) as [
  Kind,
  MediumWays,
][];

/** As it is stored, of any kind. */
export const STORED: Way = {
  name: 'stored',
  label: 'as they are',
  said: '',
  help: 'The bytes as the game has them.',
};

/** All ways of a kind, the stored one first. */
export const waysOf = (kind: string): readonly Way[] => [STORED, ...(WAYS[kind as Kind]?.ways ?? [])];
