import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { PEOPLE, type Person } from '../drawing/figures';
import { PROPS } from '../drawing/props';
import { writeHold, type HoldEntry } from '../hold-writer';
import { bell, chirp, mumble, tune, wash } from '../sounds';
import { chestEntries } from './chest';
import { menuSpool, openingLines, openingSpool, TOLL_SAID, tollSpool, widowSpool } from './film';
import {
  amendedGait,
  blouseFiles,
  blouseSheets,
  clothesTable,
  creatureTable,
  entriesOf,
  formFiles,
  formSheets,
} from './forms';
import type { FrostParts } from './frost';
import { layouts, piecesTable } from './levels';
import { GAME_KEY, programFile, withTexts } from './program';
import { songbooks, songIds, takeLines } from './songs';
import { puppetLists, puppetSheets } from './puppets';
import { amendedSheets, drawSheet, sheetRecipes } from './sheets';
import { itemTable, SPOKEN, texts } from './texts';
import { talkFont } from './glyphs';
import { NAMES, sayings, tongueList } from './talk';
import { wardrobe } from './wardrobe';
import { mapSheets } from './maps';
import { amendedBoards, glassSheets, linkTable, weatherSheets } from './weather';

const PITCH: Record<Person, number> = {
  odd: 96,
  ibis: 205,
  reed_widow: 160,
  sallow: 118,
  bog_heron: 70,
  otter: 290,
};

const saltOf = (name: string): Buffer => createHash('md5').update(`salt ${name}`).digest();

/** 4 March of the made-up year in which everything was packed; fixed, so that bytes never differ. */
const PACKED_AT = 1_772_600_000;

function soundFiles(): Map<string, Buffer> {
  const files = new Map<string, Buffer>();
  for (const who of PEOPLE)
    for (const [id, text] of Object.entries(SPOKEN[who]))
      files.set(`voice/en/${who}/${id}.wav`, mumble(text, PITCH[who]));
  const twice = (n: number): string => String(n).padStart(2, '0');
  for (let n = 1; n <= 8; n++) {
    files.set(`sound/water/lap_${twice(n)}.wav`, wash(`lap ${n}`, 0.04 + n * 0.01, 1 + n * 0.2));
    files.set(`sound/wind/reeds_${twice(n)}.wav`, wash(`reeds ${n}`, 0.2 + n * 0.04, 0.4));
    files.set(`sound/bell/toll_${twice(n)}.wav`, bell(150 + n * 42));
    files.set(`sound/frogs/frog_${twice(n)}.wav`, chirp(160 + n * 30, 320 + n * 40, 2 + (n % 4)));
  }
  files.set('music/title.wav', tune('title', [196, 247, 294, 247, 220, 262, 330, 262, 196, 247, 294, 392]));
  files.set('music/fog.wav', tune('fog', [147, 175, 165, 147, 131, 147, 110, 131]));
  files.set('music/market.wav', tune('market', [262, 330, 392, 330, 294, 349, 440, 349, 262, 392, 330, 262]));
  return files;
}

const held = (path_: string, data: Buffer): HoldEntry => ({
  path: path_,
  data: () => data,
  modified: PACKED_AT,
});
const text = (path_: string, body: string): HoldEntry => held(path_, Buffer.from(body, 'utf8'));

function amendedTexts(): HoldEntry[] {
  const ferry = texts().get('text/en/ferry.lines')!;
  return [
    text(
      'text/en/ferry.lines',
      ferry.replace(SPOKEN.odd.greeting!, 'Mind the third plank. It has been mended.'),
    ),
    text(
      'routes/jetty.json',
      `${JSON.stringify({ from: 'jetty', to: ['causeway', 'toll_bell'], oil: 2, fare: 2 }, null, 2)}\n`,
    ),
  ];
}

/** Writes Lanternfen's folder. Everything in it follows from the sources here; two builds are identical. */
export async function buildLanternfen(folder: string): Promise<FrostParts> {
  const holds = path.join(folder, 'holds');
  // Films and songs are coded beside everything else.
  const songs = songbooks();
  const reels = Promise.all([openingSpool(), tollSpool(), menuSpool(), widowSpool()]);
  fs.mkdirSync(holds, { recursive: true });
  const write = (name: string, data: Buffer | string): void =>
    fs.writeFileSync(path.join(folder, name), data);
  write('Lanternfen.bin', withTexts(programFile('Lanternfen', 1 << 20, [GAME_KEY]), TOLL_SAID));
  write('harbour-launcher.bin', programFile('launcher', 1 << 17));
  write(
    'readme.txt',
    'Lanternfen 3.2\nOddharbour Works, on Peatfire 3\n\nStart harbour-launcher. Keep your feet dry.\nLoose files in spill come before the holds.\n',
  );
  write('settings.ini', '[game]\ntongue=en\nscene=jetty\n');

  const sheets: HoldEntry[] = [];
  for (const recipe of [...sheetRecipes(), ...glassSheets()])
    sheets.push(held(recipe.path, await drawSheet(recipe)));
  const screens = sheets.filter((entry) => entry.path.startsWith('screens/'));
  const core = [
    ...[...texts()].map(([name, body]) => text(name, body)),
    text('items/goods.csv', itemTable(Object.keys(PROPS))),
    text('items/songbooks.csv', songIds()),
    text('items/takes.csv', takeLines()),
    ...['en', 'de', 'no'].map((tongue) => text(`text/${tongue}/films.lines`, openingLines(tongue))),
    text('text/tongues.lines', tongueList()),
    ...Object.keys(NAMES).map((tongue) => held(`text/${tongue}/talk.sayings`, sayings(tongue))),
    held('type/talk.glyphs', await talkFont()),
    text('credits.txt', 'Lanternfen\n\nKept, drawn and rung by Oddharbour Works.\nNo otters were paid.\n'),
    held('links/sheets.links', linkTable()),
    ...screens,
  ];
  const hold = (
    name: string,
    entries: HoldEntry[],
    rank: number,
    key: Buffer | undefined,
    roll: boolean,
  ): void =>
    writeHold(path.join(holds, name), entries, { ...(key && { key }), roll, rank, salt: saltOf(name) });
  hold('h00-core.hold', core, 0, undefined, true);
  hold(
    'h01-sheets.hold',
    sheets.filter((entry) => !screens.includes(entry)),
    1,
    GAME_KEY,
    true,
  );
  hold(
    'h02-voices.hold',
    [...soundFiles()].map(([name, data]) => held(name, data)),
    2,
    GAME_KEY,
    true,
  );
  const weather: HoldEntry[] = [];
  for (const recipe of weatherSheets()) weather.push(held(recipe.path, await drawSheet(recipe)));
  for (const recipe of mapSheets()) weather.push(held(recipe.path, await drawSheet(recipe)));
  for (const recipe of puppetSheets()) weather.push(held(recipe.path, await drawSheet(recipe)));
  for (const [name, body] of puppetLists()) weather.push(text(name, body));
  hold('h03-weather.hold', weather, 3, GAME_KEY, true);
  hold('h04-wardrobe.hold', await wardrobe(PACKED_AT), 4, GAME_KEY, false);
  const clothes = entriesOf(blouseFiles(), PACKED_AT);
  for (const recipe of blouseSheets()) clothes.push(held(recipe.path, await drawSheet(recipe)));
  const forms = entriesOf(formFiles(), PACKED_AT);
  for (const recipe of formSheets()) forms.push(held(recipe.path, await drawSheet(recipe)));
  const tables = [text('items/creatures.csv', creatureTable()), text('items/clothes.csv', clothesTable())];
  const levels = [
    text('levels/pieces.json', piecesTable()),
    ...[...layouts()].map(([name, data]) => held(name, data)),
  ];
  hold('h06-forms.hold', [...forms, ...tables, ...levels], 6, GAME_KEY, true);
  const [opening, toll, menu, reel] = await reels;
  hold(
    'h05-chest.hold',
    chestEntries(
      [...sheets.filter((entry) => entry.path.includes('/coat/')), ...clothes],
      held('reels/films/widow.spool', reel),
    ),
    5,
    undefined,
    true,
  );
  for (const [name, { book, reels }] of await songs) {
    fs.mkdirSync(path.dirname(path.join(folder, 'songs', name)), { recursive: true });
    write(`songs/${name}.songbook`, book);
    reels.forEach((reel, i) => write(`songs/${name}.reel${i + 1}`, reel));
  }
  fs.mkdirSync(path.join(folder, 'spools'));
  write('spools/opening.spool', opening);
  write('spools/toll.spool', toll);
  write('spools/menu.spool', menu);
  const amended: HoldEntry[] = amendedTexts();
  for (const recipe of [...amendedSheets(), ...amendedBoards()])
    amended.push(held(recipe.path, await drawSheet(recipe)));
  amended.push(held('voice/en/otter/thanks.wav', mumble('Keep it. Keep it. No.', 310)));
  amended.push(held(...amendedGait()));
  hold('h90-amends.hold', amended, 90, GAME_KEY, false);
  return { core, sheets: sheets.filter((entry) => !screens.includes(entry)) };
}

/** The card that lies in the game's box: the demo's own way of handing out the key. */
export function helpCard(): string {
  const hex = GAME_KEY.toString('hex');
  return `Lanternfen help card\n\nKey of the holds (Peatfire 3, 32 bytes):\n${hex.match(/.{8}/g)!.join(' ')}\n`;
}
