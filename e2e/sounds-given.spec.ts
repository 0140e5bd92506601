import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { expect, openEntry, test } from './fixtures';
import { job } from './mods-api';

test('sounds of other kinds are given for the slots of an unknown game, converted by a press, and sound as the game has them', async ({
  page,
  server,
  scratch,
}) => {
  const folder = path.join(scratch, 'sounds');
  const inner = path.join(scratch, 'inner');
  for (const one of [folder, inner]) fs.mkdirSync(one);
  const made = (to: string, ...args: string[]): Buffer => {
    const file = path.join(inner, to);
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'sine=frequency=440:duration=1',
      ...args,
      file,
    ]);
    return fs.readFileSync(file);
  };
  // One slot of floats, one of A-law, one in Ogg; none of them has an ending that says so.
  made('step.wav', '-c:a', 'pcm_f32le', '-ar', '32000', '-ac', '2');
  made('bell.wav', '-c:a', 'pcm_alaw', '-ar', '8000');
  const looped = ['-metadata', 'LOOPSTART=11025', '-metadata', 'LOOPLENGTH=22050'];
  made('song.ogg', '-c:a', 'libvorbis', '-ar', '44100', ...looped);
  made('hiss.wav', '-c:a', 'adpcm_ima_wav', '-ar', '22050');
  for (const name of ['step.wav', 'bell.wav', 'song.ogg', 'hiss.wav'])
    fs.renameSync(path.join(inner, name), path.join(inner, name.replace(/\..*/, '.snd')));
  execFileSync('zip', ['-q', path.join(folder, 'all.zip'), 'step.snd', 'bell.snd', 'song.snd', 'hiss.snd'], {
    cwd: inner,
  });
  const given = made('new.flac', '-ar', '48000', '-t', '1');
  const game = await server.addGame(folder, `Sounds ${process.pid}`);
  const answer = await server.api.post(`/api/games/${game.id}/mods`, { data: { title: 'Louder' } });
  const { id: modId } = (await answer.json()) as { id: number };

  for (const [name, form] of [
    ['step.snd', '32000 Hz, 2 channels, floats of 32 bits'],
    ['bell.snd', '8000 Hz, mono, A-law'],
    ['song.snd', 'VORBIS in OGG, 44100 Hz, mono'],
    ['hiss.snd', '22050 Hz, mono, 16 bits'],
  ] as const) {
    await openEntry(page, game.id, name);
    // The loop of the song is shown before, and kept after.
    const again = page.getByRole('button', { name: 'The loop again and again' });
    await expect(again).toHaveCount(name === 'song.snd' ? 1 : 0);
    await page
      .getByLabel('File to put in its place')
      .setInputFiles({ name: 'new.flac', mimeType: 'audio/flac', buffer: given });
    await expect(page.getByText(new RegExp(`${name} replaced`))).toBeVisible();
    await page.goto(`/games/${game.id}/changes`);
    await page.getByRole('option').filter({ hasText: name }).click();
    await page.getByRole('button', { name: `Convert to ${form}` }).click();
    await expect(page.getByText(new RegExp(`converted to ${form}`)).first()).toBeVisible();
    if (name === 'song.snd')
      await expect(
        page.getByText('the marks of the slot are kept: loops from 0.25 s to 0.75 s').first(),
      ).toBeVisible();
  }
  // What codes lose is said.
  await expect(page.getByText(/coded as IMA ADPCM, signal to noise \d\d\.\d dB/).first()).toBeVisible();
  const built = await job(server, game, { kind: 'build', modId });
  expect(built).toMatchObject({ state: 'done' });
  const installed = await job(server, game, { kind: 'install', buildId: built.result!.buildId });
  expect(installed).toMatchObject({ state: 'done' });
  const out = path.join(scratch, 'out');
  execFileSync('unzip', ['-q', path.join(folder, 'all.zip'), '-d', out]);
  const probe = (name: string): string =>
    execFileSync(
      'ffprobe',
      [
        '-v',
        'error',
        '-show_entries',
        'stream=codec_name,sample_rate,channels:stream_tags=LOOPSTART,LOOPLENGTH',
        '-of',
        'csv=p=0',
        path.join(out, name),
      ],
      { encoding: 'utf8' },
    ).trim();
  expect(['step.snd', 'bell.snd', 'song.snd', 'hiss.snd'].map(probe)).toEqual([
    'pcm_f32le,32000,2',
    'pcm_alaw,8000,1',
    'vorbis,44100,1,11025,22050',
    'adpcm_ima_wav,22050,1',
  ]);
  await server.api.delete(`/api/games/${game.id}`);
});
