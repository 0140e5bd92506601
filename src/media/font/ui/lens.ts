import { column, joined, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

/** Fonts in lists. */
export const fontLens: MediumLens = {
  kind: 'font',
  title: 'Fonts',
  columns: [
    column('Signs', 62, 'font', ({ signs }) => signs),
    column('Scripts', 150, 'font', ({ scripts }) => scripts.join(', ')),
  ],
  second: (head) => (head.sort === 'font' ? head.name : ''),
  spelled(head) {
    if (head.sort !== 'font') return '';
    const { signs, scripts, form, name } = head;
    return joined([name, `${number(signs)} signs`, scripts.join(', '), form]);
  },
};
