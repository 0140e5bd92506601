import { findingsOf, type Words } from '@/core/fit';

const listed = (signs: readonly string[]): string => signs.join(' ');

/** What is said of fonts that are brought back. */
export const fontWording = {
  'no-font': ({ form }: { form: string }): Words => ({
    what: `no font in the form ${form}`,
    why: 'The game would draw no text at all',
  }),
  'other-form': ({ is, was }: { is: string; was: string }): Words => ({
    what: `${is} given, the slot has ${was}`,
    why: 'A game that reads one need not read the other',
  }),
  'lost-signs': ({ count, first }: { count: number; first: readonly string[] }): Words => ({
    what: `${count} ${count === 1 ? 'sign' : 'signs'} fewer: ${listed(first)}${count > first.length ? ' …' : ''}`,
    why: 'Texts that have them are drawn with gaps or boxes',
  }),
  signs: ({ is, was }: { is: number; was: number }): Words => ({
    what: `${is} signs, the slot has ${was}`,
    why: 'All that were there still are',
  }),
};

export const foundInFonts = findingsOf<typeof fontWording>('font');
