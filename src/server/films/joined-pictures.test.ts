import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { keepBlob } from '../storage/storage';
import { TestBed } from '../testing/bed';
import { givenFilm } from './given-film';
import { joinPictures } from './joined-pictures';
import { IN_PARTS } from './code-film';
import { readyPicture } from './ready-picture';

/** What films are made of, and what is seen of one that is being made. */
const bed = new TestBed();
beforeAll(() => bed.begin());
afterAll(() => bed.end());

const pictures = (rate: number, seconds: number, size: string): string[] => [
  ...['-f', 'lavfi', '-i', `testsrc=size=${size}:rate=${rate}:duration=${seconds}`],
];
function made(name: string, args: readonly string[]): Buffer {
  const file = path.join(bed.folder, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
  return fs.readFileSync(file);
}
const left = (): string[] =>
  fs.readdirSync(os.tmpdir()).filter((name) => name.startsWith(`zero-latch-work-${process.pid}-`));

describe('single pictures and a sound', () => {
  const shots = (name: string, count: number): Buffer[] => {
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      ...pictures(10, count / 10, '128x64'),
      path.join(bed.folder, name),
    ]);
    const [stem, ending] = name.split('%d') as [string, string];
    return Array.from({ length: count }, (_, i) =>
      fs.readFileSync(path.join(bed.folder, `${stem}${i + 1}${ending}`)),
    );
  };
  const joined = (all: readonly Buffer[], count = all.length, sound?: string) =>
    joinPictures({ blob: keepBlob(Buffer.concat(all)), name: 'shot1.png', count, rate: 12, sound });

  test.each(['shot%d.png', 'shot%d.jpg'])(
    '%s: all of them, in their order, become one film that a film is made of',
    async (name) => {
      const sound = keepBlob(made('beside.wav', ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=2']));
      const { sha256 } = await joined(shots(name, 24), 24, sound);
      const { probed, close } = await givenFilm(sha256, 'shot1.png');
      close();
      expect(probed).toMatchObject({ seconds: 2, picture: { width: 128, height: 64, rate: 12 } });
      expect(probed.sounds).toHaveLength(1);
    },
  );

  test('one alone is a film of one picture', async () => {
    const { sha256 } = await joined(shots('one%d.png', 1));
    const { probed, close } = await givenFilm(sha256, 'one.png');
    close();
    expect(probed.picture).toMatchObject({ codec: 'png', rate: 12 });
  });

  test('what is cut short, of another sort, or none, is refused, and nothing is left', async () => {
    const before = left();
    const all = shots('shot%d.png', 3);
    await expect(joined(all, 4)).rejects.toThrow('3 of 4 pictures could be read');
    await expect(joined([Buffer.from('GIF89a and more')])).rejects.toThrow('neither PNG nor JPEG');
    await expect(joined(all, 3, keepBlob(Buffer.from('no sound')))).rejects.toThrow('begins like none');
    await expect(joined([all[0]!, Buffer.from('rubbish between'), all[1]!], 3)).rejects.toThrow(
      /pictures could be read|Invalid/,
    );
    expect(left()).toEqual(before);
  });
});

test.each([
  ['ready.ivf', 'ivf'],
  ['ready.webm', 'matroska'],
  ['ready.mpg', 'mpeg'],
  ['ready.mp4', 'mov'],
])(
  'what is ready of %s is seen while it is written',
  async (name, demuxer) => {
    const codec = {
      mpeg: ['-c:v', 'mpeg1video'],
      mov: ['-c:v', 'libx264', ...IN_PARTS],
    }[demuxer] ?? ['-c:v', 'libvpx', '-deadline', 'realtime'];
    const whole = made(name, [...pictures(25, 8, '96x64'), ...codec, '-g', '25']);
    const file = path.join(bed.folder, `half-${name}`);
    fs.writeFileSync(file, whole.subarray(0, whole.length >> 1));
    const picture = await readyPicture(file, demuxer, 3);
    expect(picture).toMatch(/^data:image\/jpeg;base64,\/9j/);
    expect(await readyPicture(file, demuxer, 1)).not.toBe(picture);
    fs.writeFileSync(file, whole.subarray(0, 40));
    await expect(readyPicture(file, demuxer, 3)).rejects.toThrow();
  },
  180_000,
);
