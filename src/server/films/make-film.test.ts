import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { ivfPieces, oggPieces, writeSpool, type Track } from '../../../demo/world/spool-writer';
import { FilmWish } from '@/media/film/core/film-wish';
import { buildMod } from '../building/builds';
import { buildFile } from '../building/build-files';
import { addGame, type GameView } from '../games/games';
import { installBuild } from '../installing/install';
import { restoreGame } from '../installing/restore';
import { travel } from '../mods/history';
import { addMod, listChanges, replaceEntry, type ChangeView } from '../mods/mods';
import { addKeys } from '../opening/keyring';
import { withOpened } from '../opening/held';
import type { JobContext } from '../running/job-context';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { estimateFilm } from './estimate';
import { filmView } from './film-view';
import { givenFilm } from './given-film';
import { loudnessOf } from './loudness';
import { makeFilm, type MadeFilmReport } from './make-film';
import { closeIdle, openFilm } from './open-films';
import { slotOf } from './slot';

/** New films in the place of old ones, in the codecs and containers of other games. */
const bed = new TestBed();
const KEY = Buffer.alloc(32, 6);
let game: GameView;
let mod: number;

const pictures = (rate: number, seconds: number, size = '96x64'): string[] => [
  '-f',
  'lavfi',
  '-i',
  `testsrc=size=${size}:rate=${rate}:duration=${seconds}`,
];
const sine = (hertz: number, seconds: number): string[] => [
  '-f',
  'lavfi',
  '-i',
  `sine=frequency=${hertz}:duration=${seconds}`,
];
const VP8 = ['-c:v', 'libvpx', '-deadline', 'realtime'];
function made(name: string, args: readonly string[]): Buffer {
  const file = path.join(bed.folder, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
  return fs.readFileSync(file);
}
let given: string;
let long: string;
let loud: string;

beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'slots');
  bed.zipBytes(path.join(folder, 'films.zip'), {
    'two.avi': made('two.avi', [
      ...[...pictures(15, 4), ...sine(300, 4), ...sine(500, 4), '-map', '0', '-map', '1', '-map', '2'],
      ...[
        '-c:v',
        'mpeg4',
        '-c:a:0',
        'libmp3lame',
        '-ar:a:0',
        '22050',
        '-ac:a:0',
        '1',
        '-c:a:1',
        'adpcm_ima_wav',
        '-ar:a:1',
        '44100',
        '-ac:a:1',
        '2',
      ],
    ]),
    'old.mpg': made('old.mpg', [...pictures(25, 3), ...sine(300, 3), '-c:v', 'mpeg1video', '-c:a', 'mp2']),
    'dense.webm': made('dense.webm', [...pictures(12, 20), ...VP8, '-g', '12']),
    'mute.webm': made('mute.webm', [...pictures(12, 3), ...VP8]),
    'lossless.mkv': made('lossless.mkv', [...pictures(12, 1), '-c:v', 'ffv1']),
  });
  const sound = (tongue: string): Track => ({
    ...{ kind: 'sound', tongue },
    pieces: oggPieces(made(`${tongue}.ogg`, [...sine(400, 5), '-ar', '48000', '-c:a', 'libopus'])),
  });
  const ivf = made('p.ivf', [...pictures(10, 5), ...VP8]);
  const marks: Track = {
    kind: 'marks',
    tongue: '',
    pieces: [{ time: 4000, data: Buffer.from('4000\tlate\n') }],
  };
  const tracks: Track[] = [
    { kind: 'picture', tongue: '', pieces: ivfPieces(ivf, 10) },
    sound('en'),
    sound('de'),
    marks,
  ];
  fs.writeFileSync(path.join(folder, 'own.spool'), writeSpool(tracks, KEY));
  fs.mkdirSync(path.join(folder, 'movies'));
  fs.copyFileSync(path.join(bed.folder, 'old.mpg'), path.join(folder, 'movies', 'intro.mpg'));
  made('intro.mp4', [
    ...[...pictures(25, 2), ...sine(440, 2), '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac'],
  ]);
  fs.copyFileSync(path.join(bed.folder, 'intro.mp4'), path.join(folder, 'movies', 'intro.mp4'));
  game = await addGame({ title: 'Slots', folder, notes: '' });
  await addKeys(game.id, KEY.toString('hex'), 'slots');
  await bed.scan(game);
  given = keepBlob(
    made('given.mp4', [
      ...pictures(30, 2, '128x128'),
      ...sine(700, 2),
      '-c:v',
      'libx264',
      '-pix_fmt',
      'yuv420p',
      '-c:a',
      'aac',
    ]),
  );
  loud = keepBlob(
    made('loud.mp4', [
      ...[...pictures(25, 3), ...sine(300, 3), '-af', 'volume=8', '-c:v', 'libx264'],
      ...['-pix_fmt', 'yuv420p', '-c:a', 'aac'],
    ]),
  );
  long = keepBlob(
    made('long.mp4', [
      ...pictures(30, 40, '320x240'),
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-pix_fmt',
      'yuv420p',
    ]),
  );
});
afterAll(async () => {
  await closeIdle(0);
  await bed.end();
});
beforeEach(async () => {
  mod = (await addMod(game.id, 'Films')).id;
});

const SPOOL = 'own.spool/picture.ivf';
type Wish = Partial<FilmWish>;
const wished = (wish: Wish): FilmWish =>
  FilmWish.parse({
    blob: given,
    name: 'given.mp4',
    width: 96,
    height: 64,
    rate: 10,
    bitRate: 200_000,
    effort: 'quick',
    sounds: [],
    ...wish,
  });
async function make(name: string, wish: Wish, job: JobContext = quietJob()): Promise<MadeFilmReport> {
  const { archiveId, index } = await bed.entry(game, name);
  return makeFilm({ gameId: game.id, modId: mod, archiveId, index, wish: wished(wish) }, job);
}
const changes = (): Promise<ChangeView[]> => listChanges(game.id, mod);
const namesOf = async (): Promise<string[]> => (await changes()).map(({ path: own }) => path.basename(own));
const whatOf = (all: readonly ChangeView[], name: string): string[] =>
  all.find(({ path: own }) => own.endsWith(name))!.findings.map(({ state, what }) => `${state}: ${what}`);

/** What ffprobe says of the streams of an entry of a built archive. */
async function built(archive: string, name: string): Promise<string[]> {
  const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
  expect(holds).toBe(true);
  const file = path.join(bed.folder, `built-${name}`);
  fs.writeFileSync(file, bed.unzippedBytes(buildFile(buildId, archive), name));
  const said = execFileSync('ffprobe', [
    '-v',
    'error',
    '-show_entries',
    'stream=codec_name,width,height,sample_rate,channels',
    '-of',
    'csv=p=0',
    file,
  ]);
  return said.toString().trim().split('\n');
}
const left = (): string[] =>
  fs.readdirSync(os.tmpdir()).filter((name) => name.startsWith(`zero-latch-work-${process.pid}-`));

describe('films that are one file', () => {
  test('two sounds of different forms: one new, one silent; each as the slot has it', async () => {
    const report = await make('two.avi', { rate: 15, sounds: [{ from: 0 }, 'silence'] });
    expect(report).toMatchObject({ film: 'two.avi', pictures: 30, seconds: 2, changed: ['two.avi'] });
    expect(await built('films.zip', 'two.avi')).toEqual([
      'mpeg4,96,64',
      'mp3,22050,1',
      'adpcm_ima_wav,44100,2',
    ]);
  });

  test('the old sound is kept, cut to the length of the new pictures', async () => {
    await make('old.mpg', { rate: 25, sounds: ['keep'] });
    expect((await built('films.zip', 'old.mpg')).map((line) => line.split(',')[0])).toEqual([
      'mpeg1video',
      'mp2',
    ]);
    const view = await filmOf('old.mpg', mod);
    expect(view.seconds).toBeCloseTo(2, 0);
  });

  test('without sound, in two passes', async () => {
    await make('mute.webm', { rate: 12, passes: 2 });
    expect(await built('films.zip', 'mute.webm')).toEqual(['vp8,96,64']);
  });

  test('an MP4 is written in parts, so that it is seen meanwhile, and is one with a single index at the end', async () => {
    await make('movies/intro.mp4', { rate: 30, sounds: ['silence'] });
    const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    const file = buildFile(buildId, 'movies/intro.mp4');
    const bytes = fs.readFileSync(file);
    expect([bytes.includes('moof'), bytes.includes('mvex'), bytes.includes('moov')]).toEqual([
      false,
      false,
      true,
    ]);
    const told = execFileSync('ffprobe', [
      ...['-v', 'error', '-select_streams', 'v', '-show_entries', 'frame=pts_time', '-of', 'csv=p=0', file],
    ]).toString();
    const times = [...told.matchAll(/[\d.]+/g)].map(([time]) => Number(time));
    expect(times).toHaveLength(60);
    expect(times[0]).toBe(0);
    expect(times.at(-1)).toBeCloseTo(59 / 30, 3);
  });

  test('a file that is in no archive is one, too', async () => {
    await make('movies/intro.mpg', { rate: 25, sounds: ['silence'] });
    expect((await filmOf('movies/intro.mpg', mod)).seconds).toBeCloseTo(2, 0);
    const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    const head = fs.readFileSync(buildFile(buildId, 'movies/intro.mpg')).subarray(0, 4);
    expect(head.toString('hex')).toBe('000001ba');
  });

  test('as loud as the old one, on request; what is louder without is pointed out', async () => {
    // A sine of full scale is far louder than the old film's, which is an eighth of it.
    await make('old.mpg', { blob: loud, rate: 25, sounds: [{ from: 0 }] });
    const [before] = await changes();
    expect(whatOf([before!], 'old.mpg').join()).toMatch(/look: louder than the old one: -\d/);
    await make('old.mpg', { blob: loud, rate: 25, sounds: [{ from: 0 }], even: true });
    const [after] = await changes();
    expect(whatOf([after!], 'old.mpg').join()).not.toContain('louder');
    expect(whatOf([after!], 'old.mpg').join()).not.toContain('quieter');
    const { archiveId, index } = await bed.entry(game, 'old.mpg');
    const level = (mod?: number) =>
      withOpened(
        async () => (await loudnessOf(await openFilm(game.id, { archiveId, index, mod })))[0]!.whole!,
      );
    expect(Math.abs((await level(mod)) - (await level()))).toBeLessThan(1);
  });

  test('as the original has it, there is nothing to point out', async () => {
    const { archiveId, index } = await bed.entry(game, 'old.mpg');
    const { picture } = await withOpened(async () => slotOf(await openFilm(game.id, { archiveId, index })));
    expect(picture).toMatchObject({ keySeconds: 12 / 25 });
    const { bitRate } = picture!;
    await make('old.mpg', { rate: 25, bitRate, sounds: ['keep'] });
    expect(whatOf(await changes(), 'old.mpg')).toEqual([expect.stringMatching(/^fits: made here/)]);
  });

  test('one that is coded already is held against the old one, too', async () => {
    const sparse = made('sparse.webm', [...pictures(12, 20, '96x64'), ...VP8, '-g', '400', '-b:v', '900k']);
    await replaceEntry(await bed.opened(game, 'dense.webm'), mod, {
      name: 'sparse.webm',
      blob: keepBlob(sparse),
      size: sparse.length,
    });
    const said = whatOf(await changes(), 'dense.webm').join();
    expect(said).toContain('look: 20 s from a picture that one can begin at to the next, in the place of 1');
  });

  test('what cannot be coded here is refused before anything is done', async () => {
    await expect(make('lossless.mkv', {})).rejects.toThrow('ffv1');
    await expect(make('two.avi', { sounds: [{ from: 3 }] })).rejects.toThrow('no sound 4');
    expect(await changes()).toEqual([]);
  });
});

const filmOf = async (name: string, modId?: number): ReturnType<typeof filmView> => {
  const { archiveId, index } = await bed.entry(game, name);
  return withOpened(() => filmView(game.id, { archiveId, index, mod: modId }));
};

describe('films of several streams', () => {
  test('each stream is a change, all of them one step; what does not suit is pointed out', async () => {
    await make(SPOOL, {
      width: 128,
      rate: 12,
      bitRate: 900_000,
      effort: 'usual',
      sounds: [{ from: 0 }, 'keep'],
    });
    const all = await changes();
    expect(all.map(({ path: own }) => own)).toEqual([SPOOL, 'own.spool/sound_en.opus']);
    expect(whatOf(all, 'picture.ivf')).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^fits: made here: VP8, 128 x 64, 12 pictures a second, 24 of them/),
        'look: 128 x 64 in the place of 96 x 64',
        'look: 12 pictures a second in the place of 10',
        'look: a mark lies behind the end: late',
        'look: kept sounds end at another time: de after 5.01 s',
      ]),
    );
    const { buildId, holds } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    expect(holds).toBe(true);
    expect(fs.statSync(buildFile(buildId, 'own.spool')).size).toBeGreaterThan(10_000);
    await travel(mod, 'undo');
    expect(await changes()).toEqual([]);
    await travel(mod, 'redo');
    expect(await changes()).toHaveLength(2);
  });

  test('made a second time, a sound that is kept is that of the game again; undone, the first is back', async () => {
    await make(SPOOL, { sounds: [{ from: 0 }, { from: 0 }] });
    expect(await namesOf()).toEqual(['picture.ivf', 'sound_de.opus', 'sound_en.opus']);
    await make(SPOOL, { sounds: ['silence', 'keep'] });
    expect(await namesOf()).toEqual(['picture.ivf', 'sound_en.opus']);
    expect(whatOf(await changes(), 'sound_en.opus')[0]).toBe('fits: silence of 2 s');
    await travel(mod, 'undo');
    expect(await namesOf()).toEqual(['picture.ivf', 'sound_de.opus', 'sound_en.opus']);
    expect((await filmOf(SPOOL, mod)).seconds).toBe(2);
    expect((await filmOf(SPOOL)).seconds).toBe(5);
  });

  test('while a build of it is installed, the next one is made of the original', async () => {
    const viewed = async (state: { mod?: number; original?: boolean }) => {
      const { archiveId, index } = await bed.entry(game, SPOOL);
      return withOpened(() => filmView(game.id, { archiveId, index, ...state }));
    };
    await make(SPOOL, { width: 128, rate: 12, sounds: [{ from: 0 }, 'silence'] });
    await make('movies/intro.mpg', { rate: 25, sounds: ['silence'] });
    const { buildId } = await buildMod(game.id, mod, { way: 'shifted' }, quietJob());
    await installBuild(game.id, buildId, quietJob());
    await bed.scan(game);
    try {
      const shape = ({ seconds, picture }: Awaited<ReturnType<typeof viewed>>) => [seconds, picture?.width];
      expect(shape(await viewed({}))).toEqual([2, 128]);
      expect(shape(await viewed({ original: true }))).toEqual([5, 96]);
      expect(shape(await viewed({ mod }))).toEqual([2, 128]);
      const empty = (await addMod(game.id, 'Nothing yet')).id;
      expect(shape(await viewed({ mod: empty }))).toEqual([5, 96]);
      // What is kept is kept of the game, not of what was put in.
      await make(SPOOL, { sounds: ['keep', { from: 0 }] });
      const all = await changes();
      expect(whatOf(all, 'picture.ivf').join()).not.toContain('12 pictures');
      expect(whatOf(all, 'picture.ivf')).toContainEqual(
        'look: kept sounds end at another time: en after 5.01 s',
      );
      expect(await namesOf()).toEqual(['intro.mpg', 'picture.ivf', 'sound_de.opus']);
      const intro = await bed.entry(game, 'movies/intro.mpg');
      const old = await withOpened(() => filmView(game.id, { ...intro, original: true }));
      expect(old.seconds).toBeCloseTo(3, 0);
    } finally {
      await restoreGame(game.id, 'ask', quietJob());
      await bed.scan(game);
    }
  });

  test('marks that the mod has changed before are those that count', async () => {
    const marks = await bed.opened(game, 'own.spool/marks.txt');
    await replaceEntry(marks, mod, bed.given('marks.txt', '500\tearly\n'));
    await make(SPOOL, { sounds: ['silence', 'silence'] });
    expect(whatOf(await changes(), 'picture.ivf').join()).not.toContain('behind the end');
    expect(whatOf(await changes(), 'marks.txt')).toContainEqual('fits: 1 piece, the last of them at 0.5 s');
  });

  test('a stream that could not be cut when it is built does not fit now', async () => {
    for (const [name, text] of [
      ['own.spool/marks.txt', 'soon\tearly\n'],
      [SPOOL, 'DKIF but nothing of a film behind it, and so cut short'],
    ] as const) {
      await replaceEntry(await bed.opened(game, name), mod, bed.given('x', text));
      const own = (await changes()).find(({ path: one }) => one === name)!;
      expect(own.fit).toBe('does not fit');
      expect(own.preparedSize).toBeNull();
    }
    expect(whatOf(await changes(), 'marks.txt')[0]).toBe(
      'does not fit: no stream that can be cut into pieces',
    );
  });
});

describe('what comes between', () => {
  test('cancelled in the middle, nothing is changed and nothing is left', async () => {
    await closeIdle(0);
    const before = left();
    let told = 0;
    const stop = new Error('stopped');
    const job: JobContext = {
      ...quietJob(),
      progress: () => void told++,
      check() {
        if (told > 0) throw stop;
      },
    };
    await expect(make(SPOOL, { blob: long, effort: 'best', sounds: ['silence', 'keep'] }, job)).rejects.toBe(
      stop,
    );
    expect(await changes()).toEqual([]);
    await closeIdle(0);
    expect(left()).toEqual(before);
  });

  test('an encoder that is killed by others says so, and changes nothing', async () => {
    let hasKilled = false;
    const job: JobContext = {
      ...quietJob(),
      progress() {
        if (hasKilled) return;
        hasKilled = true;
        execFileSync('pkill', ['-KILL', '-P', String(process.pid), 'ffmpeg']);
      },
    };
    await expect(make(SPOOL, { blob: long, effort: 'best' }, job)).rejects.toThrow(
      'ffmpeg ended with a signal',
    );
    expect(hasKilled).toBe(true);
    expect(await changes()).toEqual([]);
  });

  test('what was given is none, cut short, or a list of other files', async () => {
    const blobOf = (bytes: Buffer): string => keepBlob(new Uint8Array(bytes));
    await expect(givenFilm(blobOf(Buffer.from('#EXTM3U\n/etc/hostname\n')), 'a.mp4')).rejects.toThrow(
      'begins like no film',
    );
    const cut = made('cut.mp4', [...pictures(10, 1), '-c:v', 'libx264']).subarray(0, 1000);
    await expect(givenFilm(blobOf(cut), 'cut.mp4')).rejects.toThrow('cannot be decoded');
    const silent = blobOf(made('only.m4a', [...sine(300, 1), '-c:a', 'aac']));
    await expect(make(SPOOL, { blob: silent })).rejects.toThrow('has no pictures');
    // One whose pictures are cut off behind its head is found out when it is decoded.
    const webm = made('half.webm', [...pictures(10, 3), ...VP8]);
    await make(SPOOL, { blob: blobOf(webm.subarray(0, webm.length >> 1)), sounds: ['silence', 'silence'] });
    expect((await filmOf(SPOOL, mod)).seconds).toBeLessThan(3);
  });
});

test('a few seconds tell how large the whole will be', async () => {
  const { archiveId, index } = await bed.entry(game, SPOOL);
  const wish = wished({ blob: long, bitRate: 300_000, width: 320, height: 240, rate: 30 });
  const told = await withOpened(async () =>
    estimateFilm(await openFilm(game.id, { archiveId, index }), wish),
  );
  expect(told.picture).toMatch(/^data:image\/png;base64,/);
  await makeFilm(
    { gameId: game.id, modId: mod, archiveId, index, wish: { ...wish, sounds: ['silence', 'silence'] } },
    quietJob(),
  );
  const size = (await changes()).find(({ path: own }) => own === SPOOL)!.preparedSize!;
  // Three stretches of forty seconds; what coders do at the beginning weighs more in them.
  expect(told.bytes / size).toBeGreaterThan(0.5);
  expect(told.bytes / size).toBeLessThan(2);
});
