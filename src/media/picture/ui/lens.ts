import { column, type MediumLens } from '@/ui/contents/lens';

/** Pictures in lists. */
export const pictureLens: MediumLens = {
  kind: 'picture',
  title: 'Pictures',
  columns: [
    column('Texels', 96, 'picture', ({ width, height }) => `${width} x ${height}`),
    column('Codec', 72, 'picture', ({ layout }) => layout),
  ],
  spelled: (head) => (head.sort === 'picture' ? `${head.width} x ${head.height}, ${head.layout}` : ''),
};
