import { afterAll, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { inFilter, pictureArguments, FilmWish } from './film-wish';

const root = fs.mkdtempSync(path.join(os.tmpdir(), 'zero-latch-wish-'));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));

test.each(['plain', `it's`, 'a:b, c; [d]', 'back\\slash', 'dé ü', '%{pts} $x'])(
  'a file of texts is found by ffmpeg, whatever its folder is called: %s',
  (name) => {
    const folder = path.join(root, name);
    fs.mkdirSync(folder);
    const file = path.join(folder, 'texts.srt');
    fs.writeFileSync(file, '1\n00:00:00,000 --> 00:00:01,000\nText\n');
    const black = 'color=black:size=64x64:rate=5:duration=0.4';
    const run = (texts: string) =>
      execFileSync(
        'ffmpeg',
        ['-v', 'error', '-f', 'lavfi', '-i', black, '-vf', `subtitles=${inFilter(texts)}`, '-f', 'null', '-'],
        {
          stdio: ['ignore', 'ignore', 'pipe'],
        },
      );
    expect(() => run(file)).not.toThrow();
    expect(() => run(`${file}x`)).toThrow();
  },
);

test('pictures that one can begin at lie no farther apart than in the old film, and two seconds at the most', () => {
  const wish = FilmWish.parse({
    ...{ blob: '0'.repeat(64), name: 'x', width: 32, height: 32, rate: 10, bitRate: 100_000, sounds: [] },
  });
  const distance = (keySeconds: number | undefined): string => {
    const words = pictureArguments(wish, { codec: 'vp8', pixels: 'yuv420p', keySeconds });
    return words[words.indexOf('-g') + 1]!;
  };
  expect([undefined, 60, 2, 0.5, 0.1, 0].map(distance)).toEqual(['20', '20', '20', '5', '1', '1']);
});
