import { column, joined, lengthOf, type MediumLens } from '@/ui/contents/lens';
import type { EntryItem } from '@/server/entries/entries';
import { number } from '@/ui/format';

/** How loud it is; nothing where it is silent. */
const levelOf = (measured: EntryItem['measured']): string =>
  measured?.level?.toFixed(1).replace('-', '\u2212') ?? '';

const CHANNELS: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

/** Sounds in lists. */
export const soundLens: MediumLens = {
  kind: 'sound',
  title: 'Sounds',
  measured: { words: ['length', 'level', 'rate', 'channels'], title: 'Length and level' },
  columns: [
    {
      ...{ title: 'Length', width: '62px', sort: 'length' },
      value: (head, item) =>
        lengthOf(item?.measured?.length ?? (head.sort === 'sound' ? head.seconds : undefined)) ?? '',
    },
    { title: 'dB', width: '52px', sort: 'level', value: (_head, item) => levelOf(item?.measured) },
    column('Hz', 74, 'sound', ({ rate, channels = 1 }) =>
      rate === undefined ? undefined : `${number(rate)}${channels > 1 ? ` ×${channels}` : ''}`,
    ),
    column('Codec', 72, 'sound', ({ codec }) => codec),
  ],
  spelled(head) {
    if (head.sort !== 'sound') return '';
    const { seconds, rate, channels, bits, codec } = head;
    return joined([
      lengthOf(seconds),
      rate === undefined ? undefined : `${number(rate)} Hz`,
      channels === undefined ? undefined : (CHANNELS[channels] ?? `${channels} channels`),
      bits === undefined ? undefined : `${bits} bits`,
      codec,
    ]);
  },
};
