import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { EditedSound } from './edits';
import { joinedSound, type Joined } from './join';

const RATE = 100;
const sound = (samples: readonly number[], channels = 1, rate = RATE): EditedSound => ({
  ...{ rate, loop: undefined, cues: [] },
  channels: Array.from({ length: channels }, () => Float32Array.from(samples)),
});
const part = (samples: readonly number[], more: Partial<Joined> = {}): Joined => ({
  ...{ sound: sound(samples), gap: 0, gain: 0, fadeIn: 0, fadeOut: 0 },
  ...more,
});
const samplesOf = (parts: readonly Joined[]): number[] =>
  [...joinedSound(parts).channels[0]!].map((value) => Math.round(value * 1e5) / 1e5);

describe('sounds one after the other', () => {
  test('have gaps, or are heard at once', () => {
    expect(samplesOf([part([1, 2]), part([3], { gap: 0.02 })])).toEqual([1, 2, 0, 0, 3]);
    expect(samplesOf([part([1, 2]), part([3, 4], { gap: -0.01 })])).toEqual([1, 5, 4]);
  });

  test('never begin before the first, and what lies over a longer one leaves its end', () => {
    expect(samplesOf([part([1, 2, 3]), part([4], { gap: -9 })])).toEqual([5, 2, 3]);
    expect(samplesOf([part([1, 2, 3]), part([4], { gap: -0.03 }), part([5])])).toEqual([5, 2, 3, 5]);
    expect(samplesOf([part([1], { gap: 0.02 })])).toEqual([0, 0, 1]);
  });

  test('are louder, softer and faded by themselves', () => {
    expect(samplesOf([part([0.5], { gain: 20 }), part([0.5], { gain: -20 })])).toEqual([5, 0.05]);
    expect(samplesOf([part([1, 1, 1, 1], { fadeIn: 0.04 })])).toEqual([0, 0.25, 0.5, 0.75]);
    expect(samplesOf([part([1, 1, 1, 1], { fadeOut: 0.02 })])).toEqual([1, 1, 0.5, 0]);
    // A fade that is longer than the sound takes all of it.
    expect(samplesOf([part([1, 1], { fadeIn: 9 })])).toEqual([0, 0.5]);
  });

  test('are refused where they differ, where there is none, and where too much would come out', () => {
    expect(() => joinedSound([])).toThrow('one or more');
    const other = [sound([1], 2), sound([1], 1, 50)];
    for (const one of other)
      expect(() => joinedSound([part([1]), part([1], { sound: one })])).toThrow('clips[1]');
    const far = Array.from({ length: 400 }, () => part([1], { gap: 3600 }));
    expect(() => joinedSound(far)).toThrow('100000000 samples');
  });

  test('are as long as they and their gaps together, where no gap is below nothing', () => {
    const one = fc.record({
      samples: fc.array(fc.float({ noNaN: true }), { maxLength: 40 }),
      gap: fc.nat(50),
    });
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 6 }), (ones) => {
        const { channels } = joinedSound(ones.map(({ samples, gap }) => part(samples, { gap: gap / RATE })));
        const wanted = ones.reduce((sum, { samples, gap }) => sum + samples.length + gap, 0);
        // A gap behind the last sound is none.
        expect(channels[0]).toHaveLength(wanted);
      }),
    );
  });
});
