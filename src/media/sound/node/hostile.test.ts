import { describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { FormatError, type BytesRef } from '@/core/bytes';
import { FOUND, type Measured } from '@/core/catalogue';
import { plainForm, writeWave } from '../core/audio';
import { soundNode } from '.';

const RATE = 8000;
const tone = (seconds: number): Float32Array =>
  Float32Array.from({ length: RATE * seconds }, (_, i) => 0.5 * Math.sin(0.1 * i));
const wave = (seconds = 1): Uint8Array => writeWave([tone(seconds)], plainForm(RATE, 1));
/** A wave file with some of its head changed: `[offset, bytes of the number, number]`. */
function changed(...changes: readonly (readonly [number, 2 | 4, number])[]): Uint8Array {
  const bytes = wave();
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  for (const [at, width, value] of changes)
    if (width === 2) view.setUint16(at, value, true);
    else view.setUint32(at, value, true);
  return bytes;
}
const text = (lines: string): Uint8Array => new TextEncoder().encode(lines);

/** Bytes as they come from a disk: piece by piece. */
const inPieces = (bytes: Uint8Array, size = 16 << 10): BytesRef => ({
  length: bytes.length,
  *chunks() {
    for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
  },
});

/** Measures sounds as the background job does: as the files that they become. */
async function measuredAs(...things: Uint8Array[]): Promise<(Measured | FormatError)[]> {
  const out: (Measured | FormatError)[] = [];
  const { by, of } = soundNode.measure!;
  const items = things.map((bytes, i) => ({ plain: inPieces(bytes), path: `sounds/${i}.mp3` }));
  const context = { mediaScripts: () => undefined, check: () => undefined };
  await by.convert(items, context, (i, made) => {
    try {
      out[i] = made instanceof FormatError ? made : of(made);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      out[i] = error;
    }
  });
  return out;
}

describe('what bears the name of a sound and', () => {
  test.each([
    ['is a list of files', text('#EXTM3U\n#EXTINF:1,\n/etc/passwd\n')],
    ['is a list that is played as one', text("ffconcat version 1.0\nfile '/etc/hostname'\n")],
    [
      'names what is to be played',
      text('<?xml version="1.0"?><playlist><track>/etc/passwd</track></playlist>'),
    ],
    ['has nothing in it', new Uint8Array()],
  ])('%s is refused by name', async (_what, bytes) => {
    const [refused] = await measuredAs(bytes);
    expect(refused).toBeInstanceOf(FormatError);
    expect((refused as FormatError).facts.file).toBe('sounds/0.mp3');
  });

  // Of a wave file: channels at 22, rate at 24, bytes of a frame at 32, bits at 34, length of the samples at 40.
  test.each([
    ['has no rate', changed([24, 4, 0])],
    ['has no channels', changed([22, 2, 0])],
    ['has samples of no bits', changed([34, 2, 0])],
    ['has ADPCM in blocks of nothing', changed([20, 2, 0x11], [32, 2, 0], [34, 2, 4])],
    ['ends within its head', wave().subarray(0, 30)],
  ])('%s is broken, and those beside it are not', async (_what, bytes) => {
    const [before, broken, after] = await measuredAs(wave(2), bytes, wave(3));
    expect(broken).toBeInstanceOf(FormatError);
    expect([before, after]).toMatchObject([{ length: 2 }, { length: 3 }]);
  });

  test.each([100, 10_000, 16_044])(
    'claims two thousand million bytes of samples in %d is broken',
    async (size) => {
      const [claims] = await measuredAs(changed([40, 4, 2 ** 31]).subarray(0, size));
      expect(claims).toBeInstanceOf(FormatError);
    },
  );

  test('has ADPCM in one block, larger than it is, is broken', async () => {
    const [large] = await measuredAs(changed([20, 2, 0x11], [32, 2, 65_535], [34, 2, 4]));
    expect(large).toBeInstanceOf(FormatError);
  });
});

test('half an hour of silence in some kilobytes is that long, and silent', async () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-hour-'));
  try {
    const file = path.join(folder, 'hour.flac');
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-f', 'lavfi', '-i', 'anullsrc=r=8000:cl=mono:d=1800'],
      ...['-frame_size', '32768', '-c:a', 'flac', file],
    ]);
    const bytes = new Uint8Array(fs.readFileSync(file));
    expect(bytes.length).toBeLessThan(100_000);
    const [hour, beside] = await measuredAs(bytes, wave());
    expect(hour).toMatchObject({ length: 1800, found: FOUND.measured | FOUND.silent });
    expect(beside).toMatchObject({ length: 1, found: FOUND.measured });
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
});

test.each([10, 70_000, 300_000])(
  '%d bytes of something else before its samples change nothing',
  async (size) => {
    const plain = wave();
    const bytes = new Uint8Array(plain.length + 8 + size);
    bytes.set(plain.subarray(0, 36));
    bytes.set(text('junk'), 36);
    const view = new DataView(bytes.buffer);
    view.setUint32(40, size, true);
    bytes.set(plain.subarray(36), 44 + size);
    view.setUint32(4, bytes.length - 8, true);
    const [other, own] = await measuredAs(bytes, plain);
    expect(other).toEqual(own);
  },
);
