import { findingsOf, type Words } from '@/core/fit';

const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count} ${count === 1 ? one : many}`;
const listed = (names: readonly string[]): string =>
  names.length > 6 ? `${names.slice(0, 6).join(', ')} …` : names.join(', ');

/** What is said of tables that are brought back. */
export const tableWording = {
  'no-table': ({ form, why }: { form: string; why: string }): Words => ({
    what: `no table in the form ${form}`,
    why: why || 'The game would read nothing of it',
  }),
  'other-form': ({ is, was }: { is: string; was: string }): Words => ({
    what: `${is} given, the slot has ${was}`,
    why: 'A game that reads one need not read the other',
  }),
  'lost-columns': ({ names }: { names: readonly string[] }): Words => ({
    what: `without ${names.length === 1 ? 'the field' : 'the fields'} ${listed(names)}`,
    why: 'What reads them finds nothing',
  }),
  'other-sort': ({ names }: { names: readonly string[] }): Words => ({
    what: `other sorts of values in ${listed(names)}`,
    why: 'A number in the place of a text, or the other way round, may not be read',
  }),
  'lost-rows': ({ count }: { count: number }): Words => ({
    what: `${counted(count, 'row')} fewer`,
    why: 'Whatever names them leads nowhere',
  }),
  values: ({ cells, added }: { cells: number; added: number }): Words => ({
    what: `${counted(cells, 'value')} changed${added > 0 ? `, ${counted(added, 'row')} more` : ''}`,
    why: 'All fields that were there still are',
  }),
};

export const foundInTables = findingsOf<typeof tableWording>('table');
