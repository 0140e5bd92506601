import type { Head } from '@/media/head';
import { duration, number } from '../format';

/** A column that a lens has in place of the general ones. */
export interface LensColumn {
  readonly title: string;
  /** Width in CSS terms. */
  readonly width: string;
  readonly value: (head: Head) => string;
}

/** One way to look at the entries: of which kind, with which columns, in rows of which shape. */
export interface Lens {
  readonly kind: string;
  readonly title: string;
  readonly columns: readonly LensColumn[];
  /** What stands in a second line of each row, where the lens has such rows. */
  readonly second?: (head: Head) => string;
}

const column = <S extends Head['sort']>(
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

const told: LensColumn = {
  title: 'Tells',
  width: 'minmax(0, 190px)',
  value: (head) =>
    head.sort === 'told'
      ? head.facts.map(([title, value]) => `${title} ${value}`).join(', ')
      : head.sort === 'data'
        ? head.first
        : spelledHead(head),
};

const rate = (perSecond: number | undefined): string | undefined =>
  perSecond === undefined ? undefined : `${Math.round(perSecond * 100) / 100}`;

const length = (seconds: number | undefined): string | undefined =>
  seconds === undefined ? undefined : duration(seconds);

export const LENSES: readonly Lens[] = [
  { kind: '', title: 'All', columns: [] },
  {
    kind: 'picture',
    title: 'Pictures',
    columns: [
      column('Texels', 96, 'picture', ({ width, height }) => `${width} x ${height}`),
      column('Codec', 72, 'picture', ({ layout }) => layout),
    ],
  },
  {
    kind: 'sound',
    title: 'Sounds',
    columns: [
      column('Length', 62, 'sound', ({ seconds }) => length(seconds)),
      column('Hz', 62, 'sound', ({ rate: hertz }) => hertz),
      column('Ch', 26, 'sound', ({ channels }) => channels),
      column('Codec', 76, 'sound', ({ codec }) => codec),
    ],
  },
  {
    kind: 'film',
    title: 'Films',
    columns: [
      {
        title: 'Picture',
        width: '92px',
        value: (head) =>
          head.sort === 'film' && head.width > 0 ? `${head.width} x ${head.height}` : toldOf(head),
      },
      column('Length', 62, 'film', ({ seconds }) => length(seconds)),
      column('A second', 62, 'film', ({ pictureRate }) => rate(pictureRate)),
      column('Codec', 62, 'film', ({ codec }) => codec),
    ],
  },
  {
    kind: 'model',
    title: 'Models',
    columns: [
      {
        title: 'Triangles',
        width: '80px',
        value: (head) => (head.sort === 'model' ? number(head.triangles) : toldOf(head)),
      },
      column('Vertices', 72, 'model', ({ vertices }) => vertices),
      column('Meshes', 56, 'model', ({ meshes }) => meshes),
      column('Clips', 42, 'model', ({ clips }) => clips),
    ],
  },
  {
    kind: 'text',
    title: 'Text',
    columns: [
      column('Lines', 62, 'text', ({ lines }) => lines),
      column('Encoding', 104, 'text', ({ encoding, lineEnds }) =>
        lineEnds === 'none' ? encoding : `${encoding} ${lineEnds}`,
      ),
    ],
    second: (head) => (head.sort === 'text' ? head.first : ''),
  },
  { kind: 'archive', title: 'Archives', columns: [told] },
  { kind: 'data', title: 'Data', columns: [told] },
];

const toldOf = (head: Head): string =>
  head.sort === 'told' ? head.facts.map(([title, value]) => `${title} ${value}`).join(', ') : '';

/** What a head tells, in a line; empty where it tells nothing. */
export function spelledHead(head: Head): string {
  switch (head.sort) {
    case 'picture':
      return `${head.width} x ${head.height}, ${head.layout}`;
    case 'sound':
      return joined([
        length(head.seconds),
        head.rate === undefined ? undefined : `${number(head.rate)} Hz`,
        channelsOf(head.channels),
        head.bits === undefined ? undefined : `${head.bits} bits`,
        head.codec,
      ]);
    case 'film':
      return joined([
        head.width > 0 ? `${head.width} x ${head.height}` : undefined,
        length(head.seconds),
        head.pictureRate === undefined ? undefined : `${rate(head.pictureRate)} pictures a second`,
        head.codec,
        head.sounds > 0 ? `${head.sounds} with sound` : 'silent',
      ]);
    case 'model':
      return joined([
        `${number(head.triangles)} triangles`,
        `${number(head.vertices)} vertices`,
        head.meshes === undefined ? undefined : `${head.meshes} meshes`,
        head.materials ? `${head.materials} materials` : undefined,
        head.clips ? `${head.clips} clips` : undefined,
        head.joints ? `${head.joints} joints` : undefined,
        head.format,
      ]);
    case 'text':
      return joined([
        `${number(head.lines)} lines`,
        head.encoding,
        head.lineEnds === 'none' ? undefined : head.lineEnds,
      ]);
    case 'told':
      return toldOf(head);
    default:
      return '';
  }
}

const joined = (parts: readonly (string | undefined)[]): string => parts.filter(Boolean).join(', ');

const channelsOf = (channels: number | undefined): string | undefined =>
  channels === undefined
    ? undefined
    : channels === 1
      ? 'mono'
      : channels === 2
        ? 'stereo'
        : `${channels} channels`;
