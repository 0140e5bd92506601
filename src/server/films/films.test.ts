import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { ivfPieces, oggPieces, writeSpool, type Track } from '../../../demo/world/spool-writer';
import { addGame, type GameView } from '../games/games';
import { addKeys } from '../opening/keyring';
import { withOpened } from '../opening/held';
import { keepBlob } from '../storage/storage';
import { quietJob, TestBed } from '../testing/bed';
import { allFrames } from './all-frames';
import { filmView, type FilmView } from './film-view';
import { addText } from './add-text';
import { putMark } from './put-marks';
import { makeFilm } from './make-film';
import { FilmWish } from '@/media/film/core/film-wish';
import { matchTexts, putTexts } from './film-texts';
import { frameOf } from './frames';
import { loudnessOf } from './loudness';
import { addMod, listChanges } from '../mods/mods';
import { closeIdle, openFilm, type OpenFilm } from './open-films';
import { pieceCount, pieceList, pieceOf } from './pieces';
import { takenFilm } from './taken-film';
import { wholeFilm } from './whole';

/** Films as they are watched: of containers and codecs of all sorts, in archives, as files, in streams of their own. */
const bed = new TestBed();
const KEY = Buffer.alloc(32, 5);
let game: GameView;

const PICTURES = ['-f', 'lavfi', '-i', 'testsrc=size=96x64:rate=25:duration=5'];
const sine = (hertz: number, seconds = 5): string[] => [
  '-f',
  'lavfi',
  '-i',
  `sine=frequency=${hertz}:duration=${seconds}`,
];
function made(name: string, args: readonly string[]): Buffer {
  const file = path.join(bed.folder, name);
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args, file]);
  return fs.readFileSync(file);
}

const FILMS: Readonly<Record<string, readonly string[]>> = {
  'old.mpg': [...PICTURES, ...sine(300), '-c:v', 'mpeg1video', '-c:a', 'mp2'],
  'bare.m1v': [...PICTURES, '-c:v', 'mpeg1video', '-f', 'mpeg1video'],
  'two.avi': [
    ...PICTURES,
    ...sine(300),
    ...sine(500),
    '-map',
    '0',
    '-map',
    '1',
    '-map',
    '2',
    '-c:v',
    'mpeg4',
    '-c:a',
    'libmp3lame',
  ],
  'stream.ts': [...PICTURES, ...sine(300), '-c:v', 'mpeg2video', '-c:a', 'mp2'],
  'flash.flv': [...PICTURES, ...sine(300), '-c:v', 'flv', '-c:a', 'libmp3lame'],
  'window.wmv': [...PICTURES, ...sine(300), '-c:v', 'wmv2', '-c:a', 'wmav2'],
  'free.ogv': [...PICTURES, ...sine(300), '-c:v', 'libtheora', '-c:a', 'libvorbis'],
  'web.webm': [...PICTURES, ...sine(300), '-c:v', 'libvpx', '-deadline', 'realtime', '-c:a', 'libopus'],
  'phone.mp4': [...PICTURES, ...sine(300), '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac'],
  'odd.mkv': ['-f', 'lavfi', '-i', 'testsrc=size=97x65:rate=30:duration=3', '-c:v', 'ffv1'],
};

beforeAll(async () => {
  await bed.begin();
  const folder = path.join(bed.folder, 'films');
  const files = Object.fromEntries(Object.entries(FILMS).map(([name, args]) => [name, made(name, args)]));
  bed.zipBytes(path.join(folder, 'films.zip'), {
    ...files,
    'text/en/films.lines': 'a.one\tOne\na.two\tTwo\nb\tother\n',
    'text/de/films.lines': 'a.one\tEins\n',
  });
  fs.mkdirSync(path.join(folder, 'movies'));
  fs.writeFileSync(path.join(folder, 'movies', 'intro.mp4'), files['phone.mp4']!);
  const ivf = made('p.ivf', [
    ...[
      '-f',
      'lavfi',
      '-i',
      'testsrc=size=96x64:rate=10:duration=5',
      '-c:v',
      'libvpx',
      '-deadline',
      'realtime',
    ],
  ]);
  const sound = (tongue: string, args: readonly string[]): Track => ({
    ...{ kind: 'sound', tongue },
    pieces: oggPieces(made(`${tongue}.ogg`, [...args, '-ar', '48000', '-c:a', 'libopus'])),
  });
  const marks = ['0\tbegin\n', '1000\tsay a.one 800\n', '3000\tsay a.two 900\n'].map((line) => ({
    ...{ time: Number.parseInt(line, 10), data: Buffer.from(line) },
  }));
  const tracks: Track[] = [
    { kind: 'picture', tongue: '', pieces: ivfPieces(ivf, 10) },
    sound('en', sine(300)),
    sound('de', ['-f', 'lavfi', '-i', 'anullsrc=r=48000', '-t', '5']),
    { kind: 'marks', tongue: '', pieces: marks },
  ];
  fs.writeFileSync(path.join(folder, 'own.spool'), writeSpool(tracks, KEY));
  fs.writeFileSync(path.join(folder, 'list.mp4'), '#EXTM3U\n#EXTINF:1,\n/etc/hostname\n');
  game = await addGame({ title: 'Films', folder, notes: '' });
  await addKeys(game.id, KEY.toString('hex'), 'films');
  await bed.scan(game);
});
afterAll(async () => {
  await closeIdle(0);
  await bed.end();
});

async function opened(name: string): Promise<OpenFilm> {
  const { archiveId, index } = await bed.entry(game, name);
  return withOpened(() => openFilm(game.id, { archiveId, index }));
}
async function viewed(name: string, mod?: number): Promise<FilmView> {
  const { archiveId, index } = await bed.entry(game, name);
  return withOpened(() => filmView(game.id, { archiveId, index, mod }));
}
const PICTURE = 'own.spool/picture.ivf';
/** Seconds at which pictures of a piece begin and end, as another program tells. */
function timesOf(piece: Buffer): number[] {
  const file = path.join(bed.folder, 'piece.ts');
  fs.writeFileSync(file, piece);
  const said = execFileSync('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    'v',
    '-show_entries',
    'packet=pts_time',
    '-of',
    'csv=p=0',
    file,
  ]).toString();
  return said
    .split('\n')
    .map((line) => Number.parseFloat(line))
    .filter((time) => !Number.isNaN(time))
    .sort((a, b) => a - b);
}

describe('watching', () => {
  test.each<[string, string, number]>([
    ['old.mpg', 'in pieces', 1],
    ['bare.m1v', 'in pieces', 0],
    ['two.avi', 'in pieces', 2],
    ['stream.ts', 'in pieces', 1],
    ['flash.flv', 'in pieces', 1],
    ['window.wmv', 'in pieces', 1],
    ['free.ogv', 'in pieces', 1],
    ['odd.mkv', 'in pieces', 0],
    ['web.webm', 'as it is', 1],
    ['phone.mp4', 'as it is', 1],
    ['movies/intro.mp4', 'as it is', 1],
    [PICTURE, 'whole', 2],
  ])('%s is played %s, with %i sounds', async (name, how, sounds) => {
    const view = await viewed(name);
    expect(view.playing[0]!.how).toBe(how);
    expect(view.sounds).toHaveLength(sounds);
    expect(view.picture!.width).toBeGreaterThan(90);
    const png = await frameOf(await opened(name), 1, undefined);
    expect(await sharp(png).metadata()).toMatchObject({
      format: 'png',
      width: view.picture!.width,
      height: view.picture!.height,
    });
  });

  test.each(['old.mpg', 'bare.m1v', 'two.avi', 'stream.ts', 'flash.flv', 'free.ogv'])(
    '%s is made from wherever one is, in pieces that lie where the list says',
    async (name) => {
      const film = await opened(name);
      expect(pieceList(film).match(/\.ts/g)).toHaveLength(pieceCount(film));
      expect(pieceCount(film)).toBe(3);
      // The last one first, then back: each is begun anew.
      for (const number of [2, 0, 1]) {
        const [first, last] = [
          timesOf(await pieceOf(film, 0, number))[0]!,
          timesOf(await pieceOf(film, 0, number)).at(-1)!,
        ];
        expect(first).toBeGreaterThanOrEqual(2 * number - 0.05);
        expect(first).toBeLessThan(2 * number + 0.25);
        expect(last).toBeLessThan(2 * number + 2.3);
      }
      await expect(pieceOf(film, 0, 3)).rejects.toThrow('no such piece');
      await expect(pieceOf(film, 7, 0)).rejects.toThrow('no such piece');
    },
  );

  test('pictures before the beginning and behind the end are the first and the last', async () => {
    const film = await opened('old.mpg');
    const at = (seconds: number, wide?: number): Promise<Buffer> => frameOf(film, seconds, wide);
    expect((await at(99)).equals(await at(4.96))).toBe(true);
    expect((await at(-1)).equals(await at(0))).toBe(true);
    expect((await at(0)).equals(await at(2))).toBe(false);
    expect(await sharp(await at(1, 48)).metadata()).toMatchObject({ width: 48 });
  });

  test('streams are put into one file with the sound that is asked for, nothing coded anew', async () => {
    const film = await opened(PICTURE);
    const { file, type } = await wholeFilm(film, 1);
    expect(type).toBe('video/webm');
    const said = execFileSync('ffprobe', [
      '-v',
      'error',
      '-count_packets',
      '-show_entries',
      'stream=codec_name,nb_read_packets',
      '-of',
      'csv=p=0',
      file,
    ]).toString();
    expect(said).toMatch(/^vp8,50\nopus,\d+/);
    await expect(wholeFilm(await opened('old.mpg'), 0)).rejects.toThrow('in pieces');
  });

  test('how loud each sound is; silence is silent; all pictures come numbered', async () => {
    const film = await opened(PICTURE);
    const [english, german] = await loudnessOf(film);
    expect(english!.whole).toBeLessThan(-15);
    expect(english!.whole).toBeGreaterThan(-30);
    expect(german!.whole).toBeNull();
    const zip = path.join(bed.folder, 'all.zip');
    const parts: Buffer[] = [];
    for await (const part of await allFrames(film)) parts.push(part as Buffer);
    fs.writeFileSync(zip, Buffer.concat(parts));
    const names = execFileSync('unzip', ['-Z1', zip]).toString().trim().split('\n');
    expect([names.length, names[0], names.at(-1)]).toEqual([50, 'own-000001.png', 'own-000050.png']);
  });

  test('what is no film says so, and what is closed is gone and opens again', async () => {
    const { archiveId, index } = await bed.entry(game, 'list.mp4');
    await expect(withOpened(() => openFilm(game.id, { archiveId, index }))).rejects.toThrow(
      'begins like no film',
    );
    await expect(withOpened(() => openFilm(game.id, { archiveId, index: undefined }))).rejects.toThrow(
      'is no film',
    );
    const film = await opened('old.mpg');
    await pieceOf(film, 0, 0);
    await closeIdle(60_000);
    expect(fs.existsSync(film.folder)).toBe(true);
    await closeIdle(0);
    expect(fs.existsSync(film.folder)).toBe(false);
    const again = await opened('old.mpg');
    expect(again).not.toBe(film);
    expect((await pieceOf(again, 0, 1)).length).toBeGreaterThan(1000);
    const left = fs
      .readdirSync(os.tmpdir())
      .filter((name) => name.startsWith(`zero-latch-work-${process.pid}-`));
    expect(left).toEqual([path.basename(again.folder)]);
  });

  test('two that ask at once share one film', async () => {
    const [a, b] = await Promise.all([opened('two.avi'), opened('two.avi')]);
    expect(a).toBe(b);
  });
});

describe('texts below a film', () => {
  const shown = ({ texts }: FilmView, language: string): string[] =>
    texts.find((one) => one.language === language)!.lines.map(({ text }) => text);

  test('are those of its marks in each language; a mod changes them, the game keeps its own', async () => {
    const view = await viewed(PICTURE);
    expect(view.marks).toEqual([{ seconds: 0, text: 'begin' }]);
    expect(view.texts.map(({ name }) => name)).toEqual(['English', 'German']);
    expect(view.texts[0]!.lines).toMatchObject([
      { key: 'a.one', from: 1, to: 1.8, text: 'One' },
      { key: 'a.two', from: 3, to: 3.9, text: 'Two' },
    ]);
    const mod = (await addMod(game.id, 'Texts')).id;
    const key = { archiveId: view.archiveId, index: undefined };
    const put = (texts: Record<string, string>, language = 'en'): Promise<unknown> =>
      withOpened(() => putTexts(game.id, key, mod, language, new Map(Object.entries(texts))));
    await put({ 'a.one': 'First' });
    await put({ 'a.two': 'Second' });
    expect(shown(await viewed(PICTURE, mod), 'en')).toEqual(['First', 'Second']);
    expect(shown(await viewed(PICTURE), 'en')).toEqual(['One', 'Two']);
    expect((await listChanges(game.id, mod)).map(({ path: own }) => own)).toEqual(['text/en/films.lines']);
    await expect(put({ c: 'x' })).rejects.toThrow('has no line c');
    await expect(put({ 'a.one': 'x' }, 'fr')).rejects.toThrow('no texts in that language');
  });

  test('one is added in each language and taken out of sight again', async () => {
    const mod = (await addMod(game.id, 'One more')).id;
    const { archiveId } = await viewed(PICTURE);
    const key = { archiveId, index: undefined };
    const made = await withOpened(() => addText(game.id, key, mod, { from: 2, to: 2.5, text: 'Between' }));
    const now = await viewed(PICTURE, mod);
    expect(shown(now, 'en')).toEqual(['One', 'Between', 'Two']);
    expect(shown(now, 'de')).toContain('Between');
    expect(now.texts[0]!.lines[1]).toMatchObject({ key: made.key, from: 2, to: 2.5 });
    expect((await listChanges(game.id, mod)).map(({ path: own, fit }) => [own, fit])).toEqual([
      ['own.spool/marks.txt', 'fits'],
      ['text/de/films.lines', 'fits'],
      ['text/en/films.lines', 'fits'],
    ]);
    // A second one has a key of its own; the first is written in its language alone.
    await withOpened(() => addText(game.id, key, mod, { from: 2.6, to: 2.8, text: 'And again' }));
    await withOpened(() => putTexts(game.id, key, mod, 'de', new Map([[made.key, 'Dazwischen']])));
    expect(shown(await viewed(PICTURE, mod), 'en')).toEqual(['One', 'Between', 'And again', 'Two']);
    expect(shown(await viewed(PICTURE, mod), 'de')).toContain('Dazwischen');
    await withOpened(() => putMark(game.id, key, mod, { key: made.key, was: 2, isGone: true }));
    expect(shown(await viewed(PICTURE, mod), 'en')).toEqual(['One', 'And again', 'Two']);
    expect(shown(await viewed(PICTURE), 'en')).toEqual(['One', 'Two']);
  });

  test('a file says them in their order, or by their times where it has more or fewer', async () => {
    const { archiveId } = await viewed(PICTURE);
    const match = (file: string): ReturnType<typeof matchTexts> =>
      withOpened(() => matchTexts(game.id, { archiveId, index: undefined }, 'en', file));
    const srt = (...lines: readonly [number, number, string][]): string =>
      lines
        .map(([from, to, text], i) => `${i + 1}\n00:00:0${from},000 --> 00:00:0${to},000\n${text}\n`)
        .join('\n');
    expect((await match(srt([0, 1, 'A'], [1, 2, 'B']))).texts.map(({ key, text }) => [key, text])).toEqual([
      ['a.one', 'A'],
      ['a.two', 'B'],
    ]);
    const one = await match(srt([3, 4, 'Late']));
    expect(one).toMatchObject({ texts: [{ key: 'a.two', was: 'Two', text: 'Late' }], problems: [] });
    const three = await match(srt([1, 2, 'One'], [3, 4, 'C'], [4, 5, 'nowhere']));
    expect(three.texts).toMatchObject([{ key: 'a.two', text: 'C' }]);
    expect(three.problems[0]).toContain('1 of 3 texts have no place');
    await expect(match('no times at all')).rejects.toThrow('no texts with times');
  });
});

describe('taken out with chosen sounds', () => {
  const streams = (file: string): string[] =>
    execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name:stream_tags=language',
      '-of',
      'csv=p=0',
      file,
    ])
      .toString()
      .trim()
      .split('\n');
  const none = (): void => undefined;

  test('one of two, none, both the other way round; nothing is coded anew that need not be', async () => {
    const film = await opened(PICTURE);
    expect(streams(await takenFilm(film, 'mkv', [1], none))).toEqual(['vp8', 'opus,deu']);
    expect(streams(await takenFilm(film, 'webm', [], none))).toEqual(['vp8']);
    expect(streams(await takenFilm(film, 'mkv', [1, 0], none))).toEqual(['vp8', 'opus,deu', 'opus,eng']);
    expect(streams(await takenFilm(film, 'mp4', [0], none))).toEqual(['h264,und', 'aac,eng']);
  });

  test('of a film that is one file, too; a sound that is not there is said', async () => {
    const film = await opened('old.mpg');
    expect(streams(await takenFilm(film, 'mkv', [0], none))).toEqual(['mpeg1video', 'mp2']);
    await expect(takenFilm(film, 'mkv', [1], none)).rejects.toThrow('no sound 2');
  });

  test('whoever goes away ends it', async () => {
    const stop = new Error('gone');
    const asked = takenFilm(await opened('old.mpg'), 'webm', [0], () => {
      throw stop;
    });
    await expect(asked).rejects.toBe(stop);
  });
});

describe('marks of a film', () => {
  test('are moved, added and taken out for a mod; texts are shown at other times; the game keeps its own', async () => {
    const mod = (await addMod(game.id, 'Marks')).id;
    const archiveId = (await bed.entry(game, 'own.spool/marks.txt')).archiveId;
    const key = { archiveId, index: undefined };
    const viewed = (modId?: number) => withOpened(() => filmView(game.id, { ...key, mod: modId }));
    const put = (change: Parameters<typeof putMark>[3]) =>
      withOpened(() => putMark(game.id, key, mod, change));
    const begin = { seconds: 0, text: 'begin' };
    expect((await viewed(mod)).allMarks).toHaveLength(3);
    await put({ was: begin, now: { seconds: 0.25, text: 'begin' } });
    await put({ was: null, now: { seconds: 2.0004, text: 'Straße' } });
    await put({ key: 'a.one', was: 1, from: 1.5, to: 1.75 });
    const made = await viewed(mod);
    expect(made.marks).toEqual([
      { seconds: 0.25, text: 'begin' },
      { seconds: 2, text: 'Straße' },
    ]);
    expect(made.texts[0]!.lines[0]).toMatchObject({ from: 1.5, to: 1.75, text: 'One' });
    await expect(put({ was: begin, now: null })).rejects.toThrow('changed meanwhile');
    await put({ was: { seconds: 2, text: 'Straße' }, now: null });
    expect((await viewed(mod)).allMarks).toHaveLength(3);
    expect((await viewed()).marks).toEqual([begin]);
    const [change] = await listChanges(game.id, mod);
    expect(change).toMatchObject({ path: 'own.spool/marks.txt', fit: 'fits' });
  });

  test('a film without any has none to change', async () => {
    const mod = (await addMod(game.id, 'None')).id;
    const { archiveId, index } = await bed.entry(game, 'old.mpg');
    const asked = withOpened(() =>
      putMark(game.id, { archiveId, index }, mod, { was: null, now: { seconds: 1, text: 'x' } }),
    );
    await expect(asked).rejects.toThrow('has no marks of its own');
  });
});

test('texts are written into the pictures at their times, and nothing else is', async () => {
  const mod = (await addMod(game.id, 'Burnt')).id;
  const archiveId = (await bed.entry(game, 'own.spool/marks.txt')).archiveId;
  const grey = path.join(bed.folder, 'grey.mp4');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'color=gray:size=320x160:rate=10:duration=5',
    '-c:v',
    'libx264',
    '-pix_fmt',
    'yuv420p',
    grey,
  ]);
  const wish = FilmWish.parse({
    ...{ blob: keepBlob(fs.readFileSync(grey)), name: 'grey.mp4', width: 320, height: 160, rate: 10 },
    ...{ bitRate: 400_000, sounds: [], effort: 'quick', burn: 'en' },
  });
  const make = (burn: string) =>
    makeFilm({ gameId: game.id, modId: mod, archiveId, wish: { ...wish, burn } }, quietJob());
  await make('en');
  /** How far the brightness of a picture goes. */
  const spread = async (at: number): Promise<number> => {
    const film = await openFilm(game.id, { archiveId, index: undefined, mod });
    const { channels } = await sharp(await frameOf(film, at, undefined)).stats();
    return channels[0]!.max - channels[0]!.min;
  };
  expect(await withOpened(() => spread(1.4))).toBeGreaterThan(100);
  expect(await withOpened(() => spread(0.5))).toBeLessThan(20);
  expect(await withOpened(() => spread(2.5))).toBeLessThan(20);
  await expect(make('fr')).rejects.toThrow('no texts in that language');
});
