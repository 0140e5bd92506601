import { column, joined, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

/** Texts in lists. */
export const textLens: MediumLens = {
  kind: 'text',
  title: 'Text',
  columns: [
    column('Lines', 62, 'text', ({ lines }) => lines),
    column('Encoding', 104, 'text', ({ encoding, lineEnds }) =>
      lineEnds === 'none' ? encoding : `${encoding} ${lineEnds}`,
    ),
  ],
  second: (head) => (head.sort === 'text' ? head.first : ''),
  spelled(head) {
    if (head.sort !== 'text') return '';
    const { lines, encoding, lineEnds } = head;
    return joined([`${number(lines)} lines`, encoding, lineEnds === 'none' ? undefined : lineEnds]);
  },
};
