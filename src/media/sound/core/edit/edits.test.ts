import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { loudnessOf } from '../audio';
import { editedSound, SoundEdit, type EditedSound } from './edits';

const RATE = 1000;
/** A second of two channels whose samples tell where they were. */
const sound = (length = 1000, marks: Partial<EditedSound> = {}): EditedSound => ({
  ...{ rate: RATE, loop: undefined, cues: [] },
  channels: [1, -1].map((sign) => Float32Array.from({ length }, (_, i) => (sign * i) / 1e5)),
  ...marks,
});
const firstOf = ({ channels }: EditedSound): number[] =>
  [...channels[0]!].map((value) => Math.round(value * 1e5));
const edit = (edits: SoundEdit[], of = sound()): EditedSound => editedSound(of, edits);

describe('stretches', () => {
  test('one is kept alone, in all channels', () => {
    const kept = edit([{ sort: 'keep', from: 0.25, to: 0.26 }]);
    expect(firstOf(kept)).toEqual([250, 251, 252, 253, 254, 255, 256, 257, 258, 259]);
    expect(kept.channels[1]![0]).toBeCloseTo(-0.0025, 6);
  });

  test('one is cut out, and what is behind it follows', () => {
    const cut = firstOf(edit([{ sort: 'cut', from: 0.002, to: 0.997 }]));
    expect(cut).toEqual([0, 1, 997, 998, 999]);
  });

  test('silence is put over one, and a pause before', () => {
    const edited = firstOf(
      edit([
        { sort: 'silence', from: 0.998, to: 5 },
        { sort: 'pause', at: 0.001, seconds: 0.002 },
      ]),
    );
    expect(edited.slice(0, 5)).toEqual([0, 0, 0, 1, 2]);
    expect(edited.slice(-3)).toEqual([997, 0, 0]);
  });

  test('one is turned round where it is', () => {
    expect(firstOf(edit([{ sort: 'reverse', from: 0.001, to: 0.004 }])).slice(0, 6)).toEqual([
      0, 3, 2, 1, 4, 5,
    ]);
    expect(firstOf(edit([{ sort: 'reverse' }])).slice(0, 2)).toEqual([999, 998]);
  });

  test.each<[string, SoundEdit]>([
    ['keep', { sort: 'keep', from: 2, to: 3 }],
    ['keep', { sort: 'keep', from: 0.5, to: 0.5 }],
    ['silence', { sort: 'silence', from: 0.6, to: 0.2 }],
    ['cut', { sort: 'cut', from: 0, to: 1 }],
  ])('%s of nothing, or of all, is refused', (field, one) => {
    expect(() => edit([one])).toThrow(field);
  });
});

describe('how loud it is', () => {
  const tone = (size: number): EditedSound => ({
    ...{ rate: RATE, loop: undefined, cues: [] },
    channels: [Float32Array.from({ length: 2000 }, (_, i) => size * Math.sin(i / 3))],
  });

  test('is changed by decibels, everywhere or in a stretch', () => {
    const louder = edit([{ sort: 'gain', db: 6.0206, from: 0.5, to: 0.6 }]);
    expect(louder.channels[0]![550]).toBeCloseTo(0.011, 5);
    expect(louder.channels[0]![400]).toBeCloseTo(0.004, 6);
  });

  test('grows and falls evenly', () => {
    const flat = { ...sound(), channels: [new Float32Array(1000).fill(0.5)] };
    const faded = editedSound(flat, [
      { sort: 'fade in', from: 0, to: 0.1 },
      { sort: 'fade out', from: 0.9, to: 1 },
    ]);
    const [channel] = faded.channels;
    expect(
      [channel![0], channel![50], channel![500], channel![949], channel![999]].map((v) =>
        Number(v!.toFixed(3)),
      ),
    ).toEqual([0, 0.25, 0.5, 0.25, 0]);
  });

  test('is brought to a level, as far as no peak is cut off', () => {
    const softer = editedSound(tone(0.9), [{ sort: 'level', db: -30 }]);
    expect(loudnessOf(softer.channels, RATE).level).toBeCloseTo(-30, 1);
    const loud = editedSound(tone(0.1), [{ sort: 'level', db: 0 }]);
    expect(Math.max(...loud.channels[0]!)).toBeCloseTo(1, 3);
    expect(() => editedSound(tone(0), [{ sort: 'level', db: -20 }])).toThrow('silence');
  });
});

describe('loops and cues', () => {
  const marked = (): EditedSound => sound(1000, { loop: { from: 200, to: 800 }, cues: [100, 500, 900] });

  test.each<[string, SoundEdit, EditedSound['loop'], number[]]>([
    ['before them is cut', { sort: 'cut', from: 0, to: 0.05 }, { from: 150, to: 750 }, [50, 450, 850]],
    ['an end of the loop is cut', { sort: 'cut', from: 0.7, to: 0.85 }, undefined, [100, 500, 750]],
    ['the loop alone is kept', { sort: 'keep', from: 0.2, to: 0.801 }, { from: 0, to: 600 }, [300]],
    [
      'a pause comes in between',
      { sort: 'pause', at: 0.3, seconds: 0.1 },
      { from: 200, to: 900 },
      [100, 600, 1000],
    ],
    ['all is turned round', { sort: 'reverse' }, { from: 199, to: 799 }, [99, 499, 899]],
    ['it is made louder', { sort: 'gain', db: 3 }, { from: 200, to: 800 }, [100, 500, 900]],
  ])('go along where %s', (_what, one, loop, cues) => {
    const { loop: now, cues: places } = editedSound(marked(), [one]);
    expect([now, places]).toEqual([loop, cues]);
  });
});

test('what is given is never changed, and turning twice gives it back', () => {
  fc.assert(
    fc.property(
      fc.array(fc.float({ noNaN: true, min: -1, max: 1 }), { minLength: 1, maxLength: 60 }),
      fc.nat(59),
      (values, at) => {
        const from = (at % values.length) / RATE;
        const given = { ...sound(), channels: [Float32Array.from(values)] };
        const twice = editedSound(given, [
          { sort: 'reverse', from },
          { sort: 'reverse', from },
        ]);
        expect(twice.channels).toEqual(given.channels);
        editedSound(given, [{ sort: 'silence', from: 0, to: 1 }]);
        expect([...given.channels[0]!]).toEqual([...Float32Array.from(values)]);
      },
    ),
  );
});

test.each([
  { sort: 'keep', from: -1, to: 2 },
  { sort: 'keep', from: 1 },
  { sort: 'gain', db: 1e9 },
  { sort: 'pause', at: 0, seconds: 1e9 },
  { sort: 'echo' },
])('%j is no edit', (one) => {
  expect(SoundEdit.safeParse(one).success).toBe(false);
});
