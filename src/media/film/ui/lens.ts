import { column, joined, lengthOf, toldOf, type MediumLens } from '@/ui/contents/lens';

const rateOf = (perSecond: number | undefined): string | undefined =>
  perSecond === undefined ? undefined : `${Math.round(perSecond * 100) / 100}`;

/** Films in lists. */
export const filmLens: MediumLens = {
  kind: 'film',
  title: 'Films',
  columns: [
    {
      title: 'Picture',
      width: '92px',
      value: (head) =>
        head.sort === 'film' && head.width > 0 ? `${head.width} x ${head.height}` : toldOf(head),
    },
    column('Length', 62, 'film', ({ seconds }) => lengthOf(seconds)),
    column('A second', 62, 'film', ({ pictureRate }) => rateOf(pictureRate)),
    column('Codec', 62, 'film', ({ codec }) => codec),
  ],
  spelled(head) {
    if (head.sort !== 'film') return '';
    return joined([
      head.width > 0 ? `${head.width} x ${head.height}` : undefined,
      lengthOf(head.seconds),
      head.pictureRate === undefined ? undefined : `${rateOf(head.pictureRate)} pictures a second`,
      head.codec,
      head.sounds > 0 ? `${head.sounds} with sound` : 'silent',
    ]);
  },
};
