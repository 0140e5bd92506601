import type { Kind } from '@/core/kinds';
import { toldOf, type Lens, type LensColumn, type MediumLens } from '@/ui/contents/lens';
import { filmLens } from './film/ui/lens';
import { fontLens } from './font/ui/lens';
import type { Head } from './head';
import { modelLens } from './model/ui/lens';
import { pictureLens } from './picture/ui/lens';
import { soundLens } from './sound/ui/lens';
import { tableLens } from './table/ui/lens';
import { textLens } from './text/ui/lens';

/** How entries of each medium stand in lists, in the order of the tabs; a line a medium. */
const MEDIA: readonly MediumLens[] = [
  ...[pictureLens, soundLens, filmLens, modelLens, textLens, fontLens, tableLens],
];

/** What a head tells, in a line, by the lens of its medium; empty where it tells nothing. */
export const spelledBy = (lenses: readonly MediumLens[], head: Head): string =>
  lenses.map(({ spelled }) => spelled(head)).find((words) => words !== '') ?? toldOf(head);
export const spelledHead = (head: Head): string => spelledBy(MEDIA, head);

const told: LensColumn = {
  title: 'Tells',
  width: 'minmax(0, 190px)',
  value: (head) => (head.sort === 'data' ? head.first : spelledHead(head)),
};

/** Kinds whose files have nothing in common but what scripts tell of them. */
const OTHERS: readonly (readonly [Kind, string])[] = [
  ['archive', 'Archives'],
  ['data', 'Data'],
];

/** All lenses: of everything, of each medium, and of what is none. */
export const LENSES: readonly Lens[] = [
  { kind: '', title: 'All', columns: [] },
  ...MEDIA,
  ...OTHERS.map(([kind, title]) => ({ kind, title, columns: [told] })),
];

/** Lenses of what has to be measured before lists can be put in its order. */
export const MEASURED_LENSES = MEDIA.flatMap(({ kind, title, measured }) =>
  measured ? [{ kind, title: title.toLowerCase(), measured }] : [],
);
