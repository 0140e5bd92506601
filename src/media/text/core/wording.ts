import { findingsOf, type Words } from '@/core/fit';

/** A text's encoding, as findings keep it. */
interface Encoded {
  readonly encoding: string;
  readonly mark: boolean;
}
const spelled = ({ encoding, mark }: Encoded): string =>
  `${encoding.toUpperCase()}${mark ? ' with a mark' : ''}`;

export const textWording = {
  'data-given': (): Words => ({
    what: 'data given, the slot holds text',
    why: 'The game reads this entry as text',
  }),
  'text-for-data': (): Words => ({
    what: 'text given, the slot holds data',
    why: 'The game may not expect text here',
  }),
  'other-encoding': ({ given, slot }: { given: Encoded; slot: Encoded }): Words => ({
    what: `${spelled(given)} given, the slot has ${spelled(slot)}`,
    why: 'The game would show wrong characters or refuse the file',
    mend: `Convert to ${spelled(slot)}`,
  }),
  converted: ({ slot }: { slot: Encoded }): Words => ({
    what: `converted to ${spelled(slot)}`,
    why: 'As the slot has it',
  }),
  'line-ends': ({ given, slot }: { given: string; slot: string }): Words => ({
    what: `line ends ${given}, the slot has ${slot}`,
    why: 'Some games show a stray sign at each line end',
  }),
  same: (): Words => ({ what: 'text as the slot has it', why: 'Encoding and line ends agree' }),
  'no-tab': (): Words => ({
    what: 'a line has no tab',
    why: 'Every line of this table is an identifier, a tab and a text',
  }),
  'no-table': ({ form }: { form: string }): Words => ({
    what: `no table of ${form}`,
    why: 'The game reads its texts in this form only; change its lines on the text desk',
  }),
  'failing-lines': ({ count, first }: { count: number; first: string }): Words => ({
    what: `${count} ${count === 1 ? 'text does' : 'texts do'} not hold: ${first}`,
    why: 'The text desk has them, and what is wrong with each',
  }),
  'lost-placeholders': ({ id, lost }: { id: string; lost: readonly string[] }): Words => ({
    what: `${id} has lost ${lost.join(', ')}`,
    why: 'The game puts a value there',
  }),
  'missing-lines': ({ count, first }: { count: number; first: readonly string[] }): Words => ({
    what:
      count === 1
        ? `the line ${first[0]} is missing`
        : `${count} lines are missing: ${first.join(', ')}${count > first.length ? ' …' : ''}`,
    why: 'The game asks for each by its name',
  }),
  'changed-lines': (facts: { changed: number; all: number; added: number; missing: number }): Words => ({
    what: `${facts.changed} of ${facts.all} lines changed${facts.added ? `, ${facts.added} added` : ''}`,
    why: facts.missing > 0 ? 'Of those that are there' : 'Identifiers agree',
  }),
};

export const foundInText = findingsOf<typeof textWording>('text');
