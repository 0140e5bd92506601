import { describe, expect, test } from '@jest/globals';
import { bell, mumble, wash, writeWave as writeTone } from '../../../../demo/world/sounds';
import { writeCall } from '../../../../demo/world/tallow/file-writers';
import { callToWave } from '../../../../demo/runtime/tallow/call';
import { FormatError } from '@/core/bytes';
import type { Mend, Prepared } from '@/core/fit';
import { fitBy } from '@/media/asking';
import { readTracks } from '@/media/film/core';
import type { MediaTools } from '@/media/medium';
import { MEDIA_NODE } from '@/media/node';
import { mediaScriptsOn, wrappedSoundOf } from '@/platform/node/media-scripts';
import { readShelf } from '@/platform/node/script-shelf';
import { readWave, readWaveFacts, signalToNoise } from '../core/audio';

/** Old calls in two variants that look alike, heard, replaced and played by the stand-in, which was written by itself. */
const scripts = mediaScriptsOn(readShelf());
const tools: MediaTools = {
  scripts,
  pixelsOf: () => Promise.reject(new Error('no picture')),
  encodeImage: () => Promise.reject(new Error('no picture')),
  tracksOf: (bytes) => readTracks(bytes.length, (at, length) => bytes.subarray(at, at + length)),
};
const samplesOf = (wave: Uint8Array): Uint8Array => {
  const { dataOffset, frames } = readWaveFacts(wave);
  return wave.subarray(dataOffset, dataOffset + 2 * frames);
};
const WAVES = { bell: bell(300), voice: mumble('Mind the tide, sailor.', 140), water: wash('quay', 0.1, 2) };

describe.each(['near', 'far'] as const)('a %s call', (kind) => {
  test.each(Object.entries(WAVES))('%s is heard as the game plays it, and is no noise', (_name, wave) => {
    const call = new Uint8Array(writeCall(wave, kind));
    const ours = wrappedSoundOf(call, 'a.call', scripts)!.inner;
    const theirs = callToWave(Buffer.from(call), 'a.call');
    expect(Buffer.from(samplesOf(ours)).equals(Buffer.from(samplesOf(new Uint8Array(theirs))))).toBe(true);
    expect(signalToNoise(readWave(new Uint8Array(wave)).channels, readWave(ours).channels)).toBeGreaterThan(
      8,
    );
    // The other variant of the same bytes would be heard as noise.
    const other = call.slice();
    other[4] = kind === 'near' ? 1 : 0;
    const wrong = wrappedSoundOf(other, 'a.call', scripts)!.inner;
    expect(signalToNoise(readWave(new Uint8Array(wave)).channels, readWave(wrong).channels)).toBeLessThan(3);
  });

  test.each([
    ['as long', 1],
    ['shorter, by an odd number', 0.371],
    ['longer', 1.9],
  ])('takes a sound that is %s, and the game plays it', async (_what, by) => {
    const slot = { bytes: new Uint8Array(writeCall(WAVES.bell, kind)), name: 'a.call', kind: 'sound' };
    const frames = Math.round((by * (WAVES.bell.length - 44)) / 2);
    const tone = writeTone(Float64Array.from({ length: frames }, (_, i) => 0.4 * Math.sin(i / 11)));
    const given = { bytes: new Uint8Array(tone), name: 'tone.wav' };
    const { bytes, findings }: Prepared = await fitBy(
      MEDIA_NODE,
      slot,
      given,
      new Set<Mend>(['convert sound']),
      tools,
    );
    expect(findings.filter(({ state }) => state === 'does not fit')).toEqual([]);
    const played = readWave(new Uint8Array(callToWave(Buffer.from(bytes!), 'a.call')));
    expect(played.channels[0]!.length).toBe(frames);
    expect(signalToNoise(readWave(new Uint8Array(tone)).channels, played.channels)).toBeGreaterThan(15);
  });

  test.each([
    ['cut short', (call: Uint8Array) => call.subarray(0, call.length - 9)],
    ['that claims 2^31 samples', (call: Uint8Array) => call.fill(0x80, 8, 9)],
    ['of 0 Hz', (call: Uint8Array) => call.fill(0, 6, 8)],
    ['of a variant that nobody knows', (call: Uint8Array) => call.fill(9, 4, 5)],
  ])('%s is refused with its field, never heard as something', (_what, damage) => {
    const call = damage(new Uint8Array(writeCall(WAVES.bell, kind)));
    let refused: unknown;
    try {
      const sound = wrappedSoundOf(call, 'a.call', scripts);
      // Where no script has it, it is bytes.
      if (!sound) return;
      refused = sound;
    } catch (error) {
      refused = error;
    }
    expect(refused).toBeInstanceOf(FormatError);
    expect((refused as FormatError).facts.file).toBe('a.call');
  });
});
