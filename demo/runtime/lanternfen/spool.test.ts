import { afterAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { bell } from '../../world/sounds';
import { ivfPieces, oggPieces, writeSpool, type Track } from '../../world/spool-writer';
import { opus } from '../../world/tools';
import { readSpool, type Film } from './spool';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-spools-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

const KEY = Buffer.alloc(32, 9);

/** Another film than the demo's, of ffmpeg's own drawing. */
function drawn(
  how: readonly string[],
  options: readonly string[] = ['-c:v', 'libvpx', '-deadline', 'realtime'],
): Buffer {
  const file = path.join(root, 'drawn.ivf');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', ...how, ...options, file]);
  return fs.readFileSync(file);
}
const picture = (ivf: Buffer, rate = 10): Track => ({
  kind: 'picture',
  tongue: '',
  pieces: ivfPieces(ivf, rate),
});
const small = drawn(['-i', 'testsrc=size=64x32:rate=10:duration=1']);
const rung = await opus(bell(300));
const sound = (tongue: string): Track => ({ kind: 'sound', tongue, pieces: oggPieces(rung) });
const marks: Track = { kind: 'marks', tongue: '', pieces: [{ time: 400, data: Buffer.from('400\tbell\n') }] };

const shown = (tracks: readonly Track[], tongue = 'de', change?: (spool: Buffer) => void): Film => {
  const spool = writeSpool(tracks, KEY);
  change?.(spool);
  return readSpool(spool, 'a.spool', KEY, tongue);
};
const whole = [picture(small), sound('en'), sound('de'), marks];

describe('spools as the engine shows them', () => {
  test('a film is shown in the tongue that is set, else in the first, or silent', () => {
    const film = shown(whole);
    expect(film).toMatchObject({
      width: 64,
      height: 32,
      pictures: 10,
      seconds: 1,
      tongue: 'de',
      tongues: ['en', 'de'],
    });
    expect(film.marks).toEqual([{ time: 400, what: 'bell' }]);
    expect(film.film.subarray(0, 4).toString('hex')).toBe('1a45dfa3');
    expect(shown(whole, 'no').tongue).toBe('en');
    expect(shown([picture(small)]).tongue).toBe('');
  });

  test('without its key the player waits for ever', () => {
    expect(() => readSpool(writeSpool(whole, Buffer.alloc(32)), 'a.spool', KEY, 'en')).toThrow(
      /piece 1: it is not keyed/,
    );
  });

  /** Of each field that is checked, a bit that is wrong. */
  test.each<[string, (spool: Buffer) => void, RegExp]>([
    ['tag', (spool) => (spool[0]! ^= 1), /spool tag/],
    ['version', (spool) => (spool[6]! ^= 1), /spool version/],
    ['last time', (spool) => (spool[16]! ^= 1), /spool length/],
    ['size of a track', (spool) => (spool[24]! ^= 1), /track 1/],
    ['head of a piece', (spool) => (spool[64]! ^= 1), /piece 1: it is not keyed/],
    ['bytes of a piece', (spool) => (spool[90]! ^= 1), /piece 1: its bytes/],
  ])('%s', (_what, change, why) => {
    expect(() => shown(whole, 'en', change)).toThrow(why);
  });

  test('what the player has no room or time for', () => {
    expect(() => shown([picture(drawn(['-i', 'testsrc=size=640x320:rate=10:duration=0.2']))])).toThrow(
      /picture size/,
    );
    expect(() => shown([picture(drawn(['-i', 'testsrc=size=64x32:rate=60:duration=0.2']))])).toThrow(
      /picture rate/,
    );
    const noisy = drawn(
      ['-i', 'nullsrc=size=256x128:rate=10:duration=1,geq=random(1)*255:128:128'],
      ['-c:v', 'libvpx', '-deadline', 'realtime', '-b:v', '9M', '-qmax', '4'],
    );
    expect(() => shown([picture(noisy)])).toThrow(/bit rate/);
    expect(() =>
      shown([
        picture(
          drawn(
            ['-i', 'testsrc=size=64x32:rate=10:duration=0.3'],
            ['-c:v', 'libvpx-vp9', '-deadline', 'realtime'],
          ),
        ),
      ]),
    ).toThrow(/picture codec/);
    expect(() => shown([sound('en')])).toThrow(/no track of pictures/);
    const late: Track = { ...marks, pieces: [{ time: 900, data: Buffer.from('x') }] };
    const spool = [
      picture(small),
      { ...late, pieces: [...late.pieces, { time: 100, data: Buffer.from('y') }] },
    ];
    expect(shown(spool).marks.map(({ time }) => time)).toEqual([100, 900]);
  });
});
