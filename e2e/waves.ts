/** A wave file of one tone, for tests to bring in. */
export function tone(rate: number, seconds: number, hertz: number, channels = 1): Buffer {
  const frames = Math.round(rate * seconds);
  const out = Buffer.alloc(44 + frames * channels * 2);
  out.write('RIFF', 0);
  out.writeUInt32LE(out.length - 8, 4);
  out.write('WAVEfmt ', 8);
  out.writeUInt32LE(16, 16);
  out.writeUInt16LE(1, 20);
  out.writeUInt16LE(channels, 22);
  out.writeUInt32LE(rate, 24);
  out.writeUInt32LE(rate * channels * 2, 28);
  out.writeUInt16LE(channels * 2, 32);
  out.writeUInt16LE(16, 34);
  out.write('data', 36);
  out.writeUInt32LE(frames * channels * 2, 40);
  for (let i = 0; i < frames; i++)
    for (let c = 0; c < channels; c++)
      out.writeInt16LE(
        Math.round(12000 * Math.sin((2 * Math.PI * hertz * i) / rate)),
        44 + 2 * (i * channels + c),
      );
  return out;
}
