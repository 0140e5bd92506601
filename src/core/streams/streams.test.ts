import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { FormatError, refOfBytes } from '../bytes';
import { ivfOf } from '../testing/streams';
import { cutStream, STREAM_CUTS, type StreamCut, type StreamPiece } from '.';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-streams-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const cut = (how: StreamCut, bytes: Uint8Array, units = 1000): StreamPiece[] =>
  cutStream(how, refOfBytes(bytes), units);

/** A stream of ffmpeg's, and its packets as ffprobe tells them. */
function foreign(
  name: string,
  args: readonly string[],
): { bytes: Uint8Array; packets: { size: number; time: number }[] } {
  const file = path.join(root, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
  const said = execFileSync('ffprobe', [
    ...['-v', 'error', '-show_entries', 'packet=size,pts_time', '-of', 'csv=p=0', file],
  ]).toString();
  const packets = said
    .trim()
    .split('\n')
    .map((line) => {
      const [time, size] = line.split(',');
      return { size: Number(size), time: Number(time) };
    });
  return { bytes: new Uint8Array(fs.readFileSync(file)), packets };
}
const PICTURES = ['-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=25:duration=2'];

describe('where streams of other programs fall into pieces', () => {
  test('pictures of IVF are as long and as late as ffprobe says', () => {
    const { bytes, packets } = foreign('a.ivf', [...PICTURES, '-c:v', 'libvpx', '-deadline', 'realtime']);
    const pieces = cut('ivf', bytes);
    expect(pieces.map(({ length }, i) => length - 12 - (i === 0 ? 32 : 0))).toEqual(
      packets.map(({ size }) => size),
    );
    pieces.forEach(({ seconds }, i) => expect(seconds).toBeCloseTo(packets[i]!.time, 5));
  });

  test.each(['mpeg1video', 'mpeg2video'])(
    'pictures of %s, also those that are stored in another order than shown',
    (codec) => {
      const { bytes, packets } = foreign(`${codec}.m2v`, [
        ...PICTURES,
        '-c:v',
        codec,
        '-bf',
        '2',
        '-g',
        '9',
        '-f',
        codec,
      ]);
      const pieces = cut('mpeg-video', bytes);
      expect(pieces.map(({ length }) => length)).toEqual(packets.map(({ size }) => size));
      expect(pieces.at(-1)!.seconds).toBeCloseTo((packets.length - 1) / 25, 5);
    },
  );

  test.each([
    ['libopus', '48000'],
    ['libvorbis', '44100'],
  ])('pages of %s follow each other by their positions', (codec, rate) => {
    const { bytes } = foreign(`${codec}.ogg`, [
      '-f',
      'lavfi',
      '-i',
      'sine=duration=5',
      '-ar',
      rate,
      '-c:a',
      codec,
    ]);
    const pieces = cut('ogg', bytes);
    expect(pieces.reduce((sum, { length }) => sum + length, 0)).toBe(bytes.length);
    const places = pieces.map((_piece, i) => pieces.slice(0, i).reduce((sum, { length }) => sum + length, 0));
    for (const place of places) expect(Buffer.from(bytes.subarray(place, place + 4)).toString()).toBe('OggS');
    expect(pieces.map(({ seconds }) => seconds)).toEqual(
      [...pieces.map(({ seconds }) => seconds)].sort((a, b) => a - b),
    );
    expect(pieces.at(-1)!.seconds).toBeGreaterThan(3);
    expect(pieces.at(-1)!.seconds).toBeLessThan(5.01);
  });
});

describe('any streams', () => {
  test('lengths add up to the stream, and times never go back', () => {
    const films = fc.tuple(
      fc.array(fc.string({ maxLength: 90 }), { maxLength: 200 }),
      fc.integer({ min: 1, max: 60 }),
    );
    fc.assert(
      fc.property(films, ([pictures, rate]) => {
        const bytes = ivfOf(pictures, rate);
        const pieces = cut('ivf', bytes);
        expect(pieces).toHaveLength(pictures.length);
        const whole = pieces.reduce((sum, { length }) => sum + length, 0);
        expect(whole).toBe(pictures.length === 0 ? 0 : bytes.length);
        pieces.forEach(({ seconds }, i) => expect(seconds).toBeCloseTo(i / rate, 9));
      }),
    );
  });

  test('bytes that are none of them, or cut or changed ones, give pieces or a FormatError', () => {
    const good = ivfOf(['one', 'two', 'three'], 10);
    const bytes = fc.oneof(
      fc.uint8Array({ maxLength: 400 }),
      fc.nat(good.length).map((length) => good.slice(0, length)),
      fc.tuple(fc.nat(good.length - 1), fc.nat(255)).map(([at, value]) => {
        const changed = good.slice();
        changed[at] = value;
        return changed;
      }),
    );
    fc.assert(
      fc.property(bytes, fc.constantFrom(...STREAM_CUTS), (some, how) => {
        try {
          const pieces = cut(how, some);
          expect(pieces.reduce((sum, { length }) => sum + length, 0)).toBeLessThanOrEqual(some.length);
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError);
        }
      }),
      { numRuns: 400 },
    );
  });

  test('times that go back are refused with their picture', () => {
    expect(() => cut('ivf', ivfOf(['a', 'b', 'c'], 10, [0, 5, 3]))).toThrow(/picture 3, time/);
    expect(() => cut('mpeg-video', Buffer.from('no start code here'))).toThrow(/head of a sequence/);
    expect(cut('lines', Buffer.from('0\ta\n1500 b\r\n'), 1000).map(({ seconds }) => seconds)).toEqual([
      0, 1.5,
    ]);
  });
});
