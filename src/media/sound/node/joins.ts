import { plainForm, readWave, writeWave } from '../core/audio';
import { editedSound, joinedSound, type EditedSound, type Joined } from '../core/edit';
import type { TracksOf } from '../core/fit';
import { openedSound } from './edits';
import { shapedSound } from './packed';

/** A sound that is to be joined with others, and which stretch of it, in seconds. */
export interface JoinPart extends Omit<Joined, 'sound'> {
  readonly bytes: Uint8Array;
  readonly name: string;
  readonly from: number | undefined;
  readonly to: number | undefined;
}

/** Sounds of any kinds one after the other, as a wave file of floats at the highest of their rates, with as many channels as the one with most. */
export async function joinSounds(parts: readonly JoinPart[], tracksOf: TracksOf): Promise<Uint8Array> {
  const opened: EditedSound[] = [];
  for (const { bytes, name, from, to } of parts) {
    const whole = await openedSound(bytes, name, tracksOf);
    const isPart = from !== undefined || to !== undefined;
    const end = (whole.channels[0]?.length ?? 0) / whole.rate;
    opened.push(isPart ? editedSound(whole, [{ sort: 'keep', from: from ?? 0, to: to ?? end }]) : whole);
  }
  const rate = Math.max(...opened.map((one) => one.rate));
  const channels = Math.max(...opened.map((one) => one.channels.length));
  const joined: Joined[] = [];
  for (const [i, part] of parts.entries())
    joined.push({ ...part, sound: await shaped(opened[i]!, part.name, rate, channels) });
  const { channels: samples } = joinedSound(joined);
  return writeWave(samples, plainForm(rate, channels, 'float', 32), []);
}

/** At a rate and with so many channels; as it is where it is so already. */
async function shaped(
  sound: EditedSound,
  name: string,
  rate: number,
  channels: number,
): Promise<EditedSound> {
  const from = sound.channels.length;
  if (sound.rate === rate && from === channels) return sound;
  const wave = writeWave(sound.channels, plainForm(sound.rate, from, 'float', 32), []);
  const made = readWave(await shapedSound(wave, `${name}.wav`, { rate, channels, from }));
  return { rate, channels: made.channels, loop: undefined, cues: [] };
}
