import { FormatError } from '@/core/bytes';
import type { EditedSound } from './edits';

/** A sound in a row of others: how it begins and ends, and when after the one before it. */
export interface Joined {
  readonly sound: EditedSound;
  /** Seconds of silence before it; where it is negative both are heard at once for as long. */
  readonly gap: number;
  /** In dB. */
  readonly gain: number;
  /** Seconds. */
  readonly fadeIn: number;
  readonly fadeOut: number;
}

/** More samples than this, over all channels, are not held. */
const MOST_SAMPLES = 100_000_000;

/**
 * Sounds of one rate and as many channels one after the other, as one. Throws FormatError where there is none, they differ, or too much would come
 * out.
 */
export function joinedSound(parts: readonly Joined[]): EditedSound {
  const [first] = parts;
  if (!first)
    throw new FormatError('bad-value', { fieldPath: 'clips', expected: 'one or more', actual: 'none' });
  const { rate, channels } = first.sound;
  const starts: number[] = [];
  let end = 0;
  for (const [i, { sound, gap }] of parts.entries()) {
    if (sound.rate !== rate || sound.channels.length !== channels.length)
      throw new FormatError('bad-value', {
        ...{ fieldPath: `clips[${i}]`, expected: `${rate} Hz, ${channels.length} channels` },
        actual: `${sound.rate} Hz, ${sound.channels.length} channels`,
      });
    const start = Math.max(0, end + Math.round(gap * rate));
    starts.push(start);
    end = Math.max(end, start + (sound.channels[0]?.length ?? 0));
  }
  if (end * channels.length > MOST_SAMPLES)
    throw new FormatError('budget', {
      ...{
        fieldPath: 'clips',
        expected: `at most ${MOST_SAMPLES} samples`,
        actual: `${end * channels.length}`,
      },
      remedy: 'Make two of them',
    });
  const out = channels.map(() => new Float32Array(end));
  for (const [i, part] of parts.entries()) mixIn(out, part, starts[i]!, rate);
  return { rate, channels: out, loop: undefined, cues: [] };
}

function mixIn(out: readonly Float32Array[], part: Joined, start: number, rate: number): void {
  const factor = 10 ** (part.gain / 20);
  for (const [c, channel] of part.sound.channels.entries()) {
    const { length } = channel;
    const rise = Math.min(length, Math.round(part.fadeIn * rate));
    const fall = Math.min(length, Math.round(part.fadeOut * rate));
    const into = out[c]!;
    for (let i = 0; i < length; i++) {
      const up = i < rise ? i / rise : 1;
      const down = length - 1 - i < fall ? (length - 1 - i) / fall : 1;
      into[start + i]! += channel[i]! * factor * up * down;
    }
  }
}
