import { column, joined, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

/** Tables in lists. */
export const tableLens: MediumLens = {
  kind: 'table',
  title: 'Tables',
  columns: [
    column('Rows', 62, 'table', ({ rows }) => rows),
    column('Form', 104, 'table', ({ form }) => form),
  ],
  second: (head) => (head.sort === 'table' ? head.columns.join(', ') : ''),
  spelled(head) {
    if (head.sort !== 'table') return '';
    const { rows, columns, tables, form } = head;
    return joined([
      tables > 1 ? `${number(tables)} tables` : undefined,
      `${number(rows)} rows`,
      tables > 1 ? undefined : `${number(columns.length)} columns`,
      form,
    ]);
  },
};
