import type { Measure, MeasuredSort, Sort } from '@/core/catalogue';
import type { Head } from '@/media/head';
import type { EntryItem } from '@/server/entries/entries';
import { duration, number } from '../format';

/** A column that a lens has in place of the general ones. */
export interface LensColumn {
  readonly title: string;
  /** Width in CSS terms. */
  readonly width: string;
  readonly value: (head: Head, item?: EntryItem) => string;
  /** What the list can be put in the order of by it. */
  readonly sort?: Sort;
  /** What the order begins with when it is first asked for; the least if nothing is said. */
  readonly first?: 'up' | 'down';
}

/** One way to look at the entries: of which kind, with which columns, in rows of which shape. */
export interface Lens {
  readonly kind: string;
  readonly title: string;
  readonly columns: readonly LensColumn[];
  /** What stands in a second line of each row, where the lens has such rows. */
  readonly second?: (head: Head) => string;
}

/** The lens of a medium, and what its heads tell in a line. */
export interface MediumLens extends Lens {
  /** What is known of them only once they were measured, and what that is called. */
  readonly measured?: { readonly words: readonly Measure[]; readonly title: string };
  /** Empty for a head of another medium. */
  readonly spelled: (head: Head) => string;
}

/** A column of what heads of one sort tell. */
export const column = <S extends Head['sort']>(
  title: string,
  width: number,
  sort: S,
  value: (head: Extract<Head, { sort: S }>) => string | number | undefined,
): LensColumn => ({
  title,
  width: `${width}px`,
  value(head) {
    if (head.sort !== sort) return '';
    const shown = value(head as Extract<Head, { sort: S }>);
    return typeof shown === 'number' ? number(shown) : (shown ?? '');
  },
});

/** A column of what is measured, of which the head may tell before. */
export const counted = <S extends Head['sort']>(
  title: string,
  width: number,
  by: MeasuredSort,
  sort: S,
  value: (head: Extract<Head, { sort: S }>) => number | undefined,
): LensColumn => {
  const told = column(title, width, sort, value);
  return {
    ...told,
    ...{ sort: by, first: 'down' },
    value(head, item) {
      const known = item?.measured?.[by];
      return known === undefined || known === null ? told.value(head) : number(known);
    },
  };
};

/** What a script says that a file tells. */
export const toldOf = (head: Head): string =>
  head.sort === 'told' ? head.facts.map(([title, value]) => `${title} ${value}`).join(', ') : '';

export const joined = (parts: readonly (string | undefined)[]): string => parts.filter(Boolean).join(', ');

/** Seconds as they stand in lists. */
export const lengthOf = (seconds: number | undefined): string | undefined =>
  seconds === undefined ? undefined : duration(seconds);
