/** How loud a sound is, and how long nothing is heard at its ends. */
export interface Loudness {
  /** Root mean square of what is heard, in dB below full scale (a full square wave is 0); -Infinity for silence. */
  readonly level: number;
  /** Seconds of silence before the first and behind the last thing that is heard. */
  readonly before: number;
  readonly behind: number;
}

/** Blocks of so many seconds are heard or not, as in ITU-R BS.1770, whose absolute gate this is. */
const BLOCK_SECONDS = 0.05;
const GATE_DB = -70;
/** Floats beyond all measure are not louder than this. */
const MOST_DB = 99;

/** The loudness of a sound over all channels; blocks below the gate count as silence. */
export function loudnessOf(channels: readonly Float32Array[], rate: number): Loudness {
  const frames = channels[0]?.length ?? 0;
  const block = Math.max(1, Math.round(rate * BLOCK_SECONDS));
  const gate = 10 ** (GATE_DB / 10);
  let [sum, count] = [0, 0];
  let first = -1;
  let last = 0;
  for (let from = 0; from < frames; from += block) {
    const to = Math.min(frames, from + block);
    let square = 0;
    for (const channel of channels) for (let i = from; i < to; i++) square += channel[i]! ** 2;
    const mean = square / ((to - from) * channels.length);
    // Floats may be no numbers at all.
    if (!(mean >= gate)) continue;
    if (first < 0) first = from;
    last = from;
    sum += square;
    count += (to - from) * channels.length;
  }
  if (first < 0) return { level: Number.NEGATIVE_INFINITY, before: frames / rate, behind: frames / rate };
  // To the sample, within the blocks at both ends.
  const size = Math.sqrt(gate);
  const isHeard = (i: number): boolean => channels.some((channel) => Math.abs(channel[i]!) >= size);
  while (first < frames && !isHeard(first)) first++;
  let end = Math.min(frames, last + block);
  while (end > first && !isHeard(end - 1)) end--;
  return {
    level: Math.min(MOST_DB, 10 * Math.log10(sum / count)),
    before: first / rate,
    behind: (frames - end) / rate,
  };
}

/** How much stronger a sound is than what was lost of it, over all channels, in decibels; Infinity where nothing was. */
export function signalToNoise(wanted: readonly Float32Array[], got: readonly Float32Array[]): number {
  let [signal, noise] = [0, 0];
  for (const [c, one] of wanted.entries()) {
    const other = got[c];
    for (let i = 0; i < one.length; i++) {
      signal += one[i]! ** 2;
      noise += (one[i]! - (other?.[i] ?? 0)) ** 2;
    }
  }
  return noise === 0 ? Infinity : 10 * Math.log10(signal / noise);
}
