import { seeded } from './random';

const RATE = 22050;

/** A wave file of one channel, 16 bits, from samples between -1 and 1. */
export function writeWave(samples: Float64Array, rate = RATE): Buffer {
  const out = Buffer.alloc(44 + 2 * samples.length);
  out.write('RIFF', 0, 'latin1');
  out.writeUInt32LE(36 + 2 * samples.length, 4);
  out.write('WAVEfmt ', 8, 'latin1');
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(1, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(2 * rate, 28);
  out.writeUInt16LE(2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36, 'latin1');
  out.writeUInt32LE(2 * samples.length, 40);
  samples.forEach((value, i) =>
    out.writeInt16LE(Math.round(32000 * Math.max(-1, Math.min(1, value))), 44 + 2 * i),
  );
  return out;
}

const seconds = (time: number): Float64Array => new Float64Array(Math.round(time * RATE));

/** Wave files laid over each other, each from a second on and so loud, over so many seconds. */
export function mixed(length: number, parts: readonly (readonly [number, Buffer, number])[]): Buffer {
  const samples = seconds(length);
  for (const [at, wave, loud] of parts) {
    const start = Math.round(at * RATE);
    for (let i = 0; 44 + 2 * i < wave.length && start + i < samples.length; i++)
      samples[start + i]! += (loud * wave.readInt16LE(44 + 2 * i)) / 32000;
  }
  return writeWave(samples);
}

/** Resonances of five vowels, in hertz. */
const VOWELS = [
  [800, 1150],
  [400, 1700],
  [300, 2200],
  [450, 800],
  [330, 650],
] as const;

/** A voice that mumbles a text: a vowel a syllable, pitched by the speaker, tuned by the sentence. */
export function mumble(text: string, pitch: number): Buffer {
  const syllables = text.toLowerCase().match(/[aeiouy]+|[.,!?]/g) ?? ['a'];
  const random = seeded(`voice ${text}`);
  const length = 0.15;
  const samples = seconds(syllables.length * length + 0.2);
  let phase = 0;
  const state = [0, 0, 0, 0];
  for (let i = 0; i < samples.length; i++) {
    const at = i / RATE / length;
    const syllable = syllables[Math.floor(at)];
    if (syllable === undefined || /[.,!?]/.test(syllable)) continue;
    const vowel = VOWELS[Math.max(0, 'aeiou'.indexOf(syllable[0]!)) % 5]!;
    const along = at % 1;
    const tune = pitch * (1 + 0.08 * Math.sin(at * 1.7) - (0.15 * at) / syllables.length);
    phase += tune / RATE;
    const pulse = 2 * (phase % 1) - 1 + (random() - 0.5) * 0.15;
    const envelope = Math.sin(Math.PI * Math.min(1, along * 1.1)) ** 0.7;
    let out = 0;
    vowel.forEach((formant, k) => {
      const r = 0.985;
      const value =
        pulse * (1 - r) +
        2 * r * Math.cos((2 * Math.PI * formant) / RATE) * state[2 * k]! -
        r * r * state[2 * k + 1]!;
      state[2 * k + 1] = state[2 * k]!;
      state[2 * k] = value;
      out += value;
    });
    samples[i] = 0.45 * out * envelope;
  }
  return writeWave(samples);
}

/** A struck bell: partials that are no whole multiples, each dying at its own rate. Only its first samples are worked out where no more are wanted. */
export function bell(note: number, wanted = Infinity): Buffer {
  const samples = seconds(2.4);
  for (let i = 0; i < Math.min(wanted, samples.length); i++) {
    const t = i / RATE;
    for (const [ratio, loud, decay] of [
      [0.5, 0.25, 1],
      [1, 0.35, 1.4],
      [1.2, 0.2, 2],
      [2.03, 0.15, 3],
      [2.98, 0.1, 4],
    ] as const)
      samples[i]! += loud * Math.exp(-decay * t) * Math.sin(2 * Math.PI * note * ratio * t);
  }
  return writeWave(samples);
}

/** Water against wood, wind in reeds or rain: filtered noise that swells. */
export function wash(name: string, brightness: number, swell: number): Buffer {
  const random = seeded(`wash ${name}`);
  const samples = seconds(2);
  let held = 0;
  for (let i = 0; i < samples.length; i++) {
    held += brightness * (random() * 2 - 1 - held);
    samples[i] = held * (0.35 + 0.3 * Math.sin((2 * Math.PI * swell * i) / RATE)) * 1.6;
  }
  return writeWave(samples);
}

/** A frog or a bird: short chirps that slide. */
export function chirp(from: number, to: number, count: number): Buffer {
  const samples = seconds(0.25 * count + 0.2);
  for (let n = 0; n < count; n++) {
    let phase = 0;
    const length = Math.round(0.14 * RATE);
    for (let i = 0; i < length; i++) {
      phase += (from + ((to - from) * i) / length) / RATE;
      samples[Math.round(0.25 * n * RATE) + i] =
        0.5 * Math.sin(2 * Math.PI * phase) * Math.sin((Math.PI * i) / length);
    }
  }
  return writeWave(samples);
}

/** A plucked tune on a slack string (Karplus and Strong, 1983). */
export function tune(name: string, notes: readonly number[]): Buffer {
  const random = seeded(`tune ${name}`);
  const step = 0.32;
  const samples = seconds(step * notes.length + 1);
  notes.forEach((note, n) => {
    const period = Math.round(RATE / note);
    const string = Float64Array.from({ length: period }, () => random() * 2 - 1);
    const start = Math.round(n * step * RATE);
    for (let i = 0; start + i < samples.length && i < RATE; i++) {
      const k = i % period;
      samples[start + i]! += 0.3 * string[k]!;
      string[k] = 0.497 * (string[k]! + string[(k + 1) % period]!);
    }
  });
  return writeWave(samples);
}
