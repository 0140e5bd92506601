// IMA and Microsoft's ADPCM against ffmpeg on the same sound, decoding and coding: medians in turn, with what its process costs to begin.
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { decodeIma, decodeMs, encodeIma, encodeMs, MS_COEFFICIENTS } from '../src/media/sound/core/adpcm';

const SECONDS = 600;
const ROUNDS = 5;
const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-bench-sounds-'));
const at = (name: string): string => path.join(folder, name);
const ffmpeg = (...args: string[]): void =>
  void execFileSync('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args]);
const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1]!;
const timed = (work: () => void): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};

function waveOf(file: string): { block: number; data: Uint8Array } {
  const bytes = fs.readFileSync(file);
  const format = bytes.indexOf('fmt ');
  const data = bytes.indexOf('data', format);
  return {
    block: bytes.readUInt16LE(format + 20),
    data: new Uint8Array(bytes.subarray(data + 8, data + 8 + bytes.readUInt32LE(data + 4))),
  };
}

try {
  const source = `aevalsrc=0.5*sin(2*PI*t*(200+9*t))+0.02*random(0)|0.4*sin(2*PI*t*330):s=44100:d=${SECONDS}`;
  ffmpeg('-f', 'lavfi', '-i', source, '-c:a', 'pcm_s16le', at('plain.wav'));
  const begins = median(Array.from({ length: ROUNDS }, () => timed(() => ffmpeg('-version'))));
  process.stdout.write(
    `${SECONDS} s of two channels at 44100 Hz; an ffmpeg that does nothing takes ${begins.toFixed(0)} ms\n`,
  );
  for (const [name, codec] of [
    ['IMA', 'adpcm_ima_wav'],
    ["Microsoft's", 'adpcm_ms'],
  ] as const) {
    ffmpeg('-i', at('plain.wav'), '-c:a', codec, at('coded.wav'));
    const { block, data } = waveOf(at('coded.wav'));
    const ima = { channels: 2, block, hasHead: true, isHighFirst: false, turn: 4 };
    const ms = { channels: 2, block, coefficients: MS_COEFFICIENTS };
    const decode = (): Int16Array[] => (codec === 'adpcm_ms' ? decodeMs(data, ms) : decodeIma(data, ima));
    const samples = decode();
    const encode = (): Uint8Array => (codec === 'adpcm_ms' ? encodeMs(samples, ms) : encodeIma(samples, ima));
    encode();
    const times: Record<'decode' | 'theirs' | 'encode' | 'coded', number[]> = {
      decode: [],
      theirs: [],
      encode: [],
      coded: [],
    };
    for (let i = 0; i < ROUNDS; i++) {
      times.theirs.push(
        timed(() => ffmpeg('-threads', '1', '-i', at('coded.wav'), '-f', 's16le', at('out.raw'))),
      );
      times.decode.push(timed(() => decode()));
      times.coded.push(
        timed(() => ffmpeg('-threads', '1', '-i', at('plain.wav'), '-c:a', codec, at('out.wav'))),
      );
      times.encode.push(timed(() => encode()));
    }
    for (const [what, ours, theirs] of [
      ['decoded', times.decode, times.theirs],
      ['coded', times.encode, times.coded],
    ] as const) {
      const [a, b] = [median(ours), median(theirs)];
      const text = `${name} ${what}: ${a.toFixed(0)} ms, ffmpeg ${b.toFixed(0)} ms as a process, ratio ${(a / b).toFixed(2)}; without its beginning ${(a / (b - begins)).toFixed(2)}`;
      process.stdout.write(`${text}\n`);
    }
  }
} finally {
  fs.rmSync(folder, { recursive: true });
}
