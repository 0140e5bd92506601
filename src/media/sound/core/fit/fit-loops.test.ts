import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Mend, Prepared } from '@/core/fit';
import { readTracks } from '@/media/film/core';
import { flacComments } from '@/media/film/core/flac-comments';
import { loopOfTags } from '@/media/film/core/loop-tags';
import { editSound } from '@/media/sound/node/edits';
import { packedSound, shapedSound, type PackedSound } from '@/media/sound/node/packed';
import { loopsOf, otherChunks, plainForm, readWaveFacts, writeWave } from '../audio';
import { markChunks } from '../audio/wave-marks';
import { fitMedia } from './fit-media';

const RATE = 48_000;
const LOOP = { from: 0.5, to: 1.5 };
const WANTED = { rate: RATE, channels: 1, from: 1, bitRate: 64_000, bits: 16 } as const;
const tone = (seconds: number): Float32Array =>
  Float32Array.from({ length: RATE * seconds }, (_, i) => 0.4 * Math.sin(0.05 * i));
/** A wave file of a tone, with a loop where one is said. */
const wave = (seconds: number, loop?: { from: number; to: number }): Uint8Array =>
  writeWave(
    [tone(seconds)],
    plainForm(RATE, 1),
    loop && markChunks(RATE, { from: loop.from * RATE, to: loop.to * RATE - 1 }, []),
  );
const packed = (codec: PackedSound['codec'], seconds: number, loop?: typeof LOOP): Promise<Uint8Array> =>
  packedSound(wave(seconds), 'a tone', { ...WANTED, codec, loop });
async function loopIn(bytes: Uint8Array): Promise<{ from: number; to: number } | undefined> {
  const head = await readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length));
  return head?.sort === 'sound' ? head.loop : undefined;
}
const fit = async (slot: Uint8Array, given: Uint8Array, ...mends: Mend[]): Promise<Prepared> =>
  (await fitMedia(slot, given, 'given', new Set(mends), { pack: packedSound, hear: shapedSound }))!;
const found = ({ findings }: Prepared): string[] =>
  findings
    .filter(({ code }) => /marks|loop/.test(code))
    .map(({ code, state }) => `${code.slice(6)}: ${state}`);

describe.each(['vorbis', 'opus', 'flac', 'mp3'] as const)('a slot of %s that is looped', (codec) => {
  test('says so by its comments, and one without says nothing', async () => {
    expect(await loopIn(await packed(codec, 2, LOOP))).toEqual(LOOP);
    expect(await loopIn(await packed(codec, 2))).toBeUndefined();
  });

  test('is looped still, whatever is put into it', async () => {
    const slot = await packed(codec, 2, LOOP);
    const longer = await fit(slot, wave(3), 'convert sound');
    expect(await loopIn(longer.bytes!)).toEqual(LOOP);
    expect(found(longer)).toEqual(['slot-marks: fits']);
    // The second after the first.
    const again = await fit(longer.bytes!, wave(1), 'convert sound');
    expect(await loopIn(again.bytes!)).toEqual({ from: 0.5, to: 1 });
    expect(found(again)).toEqual(['slot-marks: look']);
    const own = await fit(slot, wave(3, { from: 1, to: 2.5 }), 'convert sound');
    expect(await loopIn(own.bytes!)).toEqual({ from: 1, to: 2.5 });
    expect(found(own)).toEqual(['own-marks: fits']);
  });

  test('that is damaged has a loop, another one or none, and is read to its end', async () => {
    const slot = await packed(codec, 2, LOOP);
    const change = fc.tuple(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 255 }));
    await fc.assert(
      fc.asyncProperty(fc.array(change, { maxLength: 20 }), fc.nat(slot.length), async (changes, length) => {
        const bytes = slot.slice(0, length);
        for (const [at, value] of changes) if (at < length) bytes[at] = value;
        const loop = await loopIn(bytes);
        if (loop) expect(loop.to).toBeGreaterThan(loop.from);
      }),
    );
  });

  test('keeps its loop where it is edited', async () => {
    const slot = await packed(codec, 2, LOOP);
    const edited = await editSound(slot, 'slot', [{ sort: 'cut', from: 0, to: 0.25 }], (bytes) =>
      readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length)),
    );
    const [loop] = loopsOf(otherChunks(edited, readWaveFacts(edited)));
    expect(loop).toEqual({ from: 0.25 * RATE, to: 1.25 * RATE - 1 });
  });

  test('and something of its own format without a loop, or too short for it, is pointed out', async () => {
    const slot = await packed(codec, 2, LOOP);
    expect(found(await fit(slot, await packed(codec, 2)))).toEqual(['no-loop: look']);
    expect(found(await fit(slot, await packed(codec, 2, LOOP)))).toEqual(['own-marks: fits']);
    const short = await fit(slot, wave(0.25), 'convert sound');
    expect(await loopIn(short.bytes!)).toBeUndefined();
    expect(found(short)).toEqual(['no-loop: look']);
    expect(found(await fit(await packed(codec, 2), wave(2), 'convert sound'))).toEqual([]);
  });
});

test.each([
  [
    { LOOPSTART: '100', LOOPLENGTH: '50' },
    { from: 1, to: 1.5 },
  ],
  [
    { loop_start: '100', Loop_End: ' 150 ' },
    { from: 1, to: 1.5 },
  ],
  [{ TXXX: { LOOPSTART: '0', LOOPLENGTH: '100' } }, { from: 0, to: 1 }],
  [
    { LOOPSTART: ['100', '7'], LOOPLENGTH: '50' },
    { from: 1, to: 1.5 },
  ],
  [{ LOOPSTART: '100' }, undefined],
  [{ LOOPLENGTH: '100' }, undefined],
  [{ LOOPSTART: '-1', LOOPLENGTH: '100' }, undefined],
  [{ LOOPSTART: '1e3', LOOPLENGTH: '100' }, undefined],
  [{ LOOPSTART: '100', LOOPLENGTH: '0' }, undefined],
  [{ LOOPSTART: '100', LOOPEND: '100' }, undefined],
  [{}, undefined],
])('%j is a loop or none', (raw, loop) => expect(loopOfTags(raw, 100)).toEqual(loop));

test('a loop that goes on behind the end ends there, and one that begins there is none', () => {
  expect(loopOfTags({ LOOPSTART: '100', LOOPLENGTH: '999999999' }, 100, 4)).toEqual({ from: 1, to: 4 });
  expect(loopOfTags({ LOOPSTART: '400', LOOPLENGTH: '100' }, 100, 4)).toBeUndefined();
});

test('comments of a FLAC that are damaged are none, and read in no time', () =>
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 200 }), fc.integer({ min: 0, max: 255 }), (rest, kind) => {
      const bytes = Uint8Array.from([...new TextEncoder().encode('fLaC'), kind, 0, 0, 60, ...rest]);
      const comments = flacComments(bytes.length, (at, length) => bytes.subarray(at, at + length));
      for (const [name, value] of Object.entries(comments))
        expect(name.length + value.length).toBeLessThan(bytes.length);
    }),
  ));
