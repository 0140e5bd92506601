import { column, joined, lengthOf, type MediumLens } from '@/ui/contents/lens';
import { number } from '@/ui/format';

const CHANNELS: Readonly<Record<number, string>> = { 1: 'mono', 2: 'stereo' };

/** Sounds in lists. */
export const soundLens: MediumLens = {
  kind: 'sound',
  title: 'Sounds',
  columns: [
    column('Length', 62, 'sound', ({ seconds }) => lengthOf(seconds)),
    column('Hz', 62, 'sound', ({ rate }) => rate),
    column('Ch', 26, 'sound', ({ channels }) => channels),
    column('Codec', 76, 'sound', ({ codec }) => codec),
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
