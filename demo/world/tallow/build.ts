import fs from 'node:fs';
import path from 'node:path';
import { painted } from '../drawing/painted';
import zlib from 'node:zlib';
import { PEOPLE, person } from '../drawing/figures';
import { lettering } from '../drawing/lettering';
import { PLACES, placeDrawing } from '../drawing/places';
import { PROPS } from '../drawing/props';
import { frames, soundtrack } from '../lanternfen/film';
import { QUAY } from '../lanternfen/film-scenes';
import { programFile } from '../lanternfen/program';
import { seeded } from '../random';
import type { Pixels } from '../sheet-writer';
import { bell, chirp, mumble, wash } from '../sounds';
import { writeCall, writeHarbour, writePrint, texelsFor, type Harbour } from './file-writers';
import { writeCarving } from './carving-writer';
import { cog } from './cog';
import { oldFilm } from '../tools';
import { writeStores, type StoreItem } from './stores-writer';

async function draw(body: string, width: number, height: number, box = '0 0 256 256'): Promise<Pixels> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="${box}">${body}</svg>`;
  return { width, height, data: await painted(svg, (picture) => picture.ensureAlpha().raw().toBuffer()) };
}

async function pictures(): Promise<StoreItem[]> {
  const items: StoreItem[] = [];
  for (const [name, body] of Object.entries(PROPS)) {
    const pixels = await draw(body, 64, 64);
    items.push({ path: `goods/${name}.print`, data: writePrint(pixels, 'rgba8'), loose: true });
  }
  for (const who of PEOPLE) {
    const pixels = await draw(
      `<g transform="translate(128 138) scale(.78)">${person(who, 'calm')}</g>`,
      128,
      128,
    );
    items.push({ path: `traders/${who}.print`, data: writePrint(pixels, 'bc1'), loose: true });
  }
  return items;
}

function sounds(): StoreItem[] {
  const items: StoreItem[] = [];
  for (let n = 1; n <= 5; n++) {
    items.push({ path: `calls/bell_${n}.call`, data: writeCall(bell(140 + n * 40), 'near') });
    items.push({ path: `calls/gull_${n}.call`, data: writeCall(chirp(500 + n * 60, 900, 2), 'far') });
    items.push({
      path: `calls/quay_${n}.call`,
      data: writeCall(wash(`quay ${n}`, 0.1, n), n % 2 ? 'near' : 'far'),
    });
    const words = mumble(`A fair price, and a fair wind. ${n}`, 90 + 20 * n);
    items.push({ path: `calls/trader_${n}.call`, data: writeCall(words, 'far') });
  }
  return items;
}

/** A film of its time, which no browser plays. */
async function films(): Promise<StoreItem[]> {
  const rate = 12.5;
  const sound = soundtrack(QUAY, [], 'en', 100, [
    [0.5, bell(262)],
    [3, chirp(600, 900, 2)],
  ]);
  const data = await oldFilm(await frames(QUAY, 320, 160, rate), rate, sound);
  return [{ path: 'films/quay.mpg', data, loose: true }];
}

/** A ship with the pictures of its timber and of its sail; the carving names that of its timber only. */
async function ships(): Promise<StoreItem[]> {
  const timber = await draw(
    `<rect width="256" height="256" fill="#8a5a34"/>${[0, 1, 2, 3, 4, 5, 6, 7].map((i) => `<path d="M0 ${i * 32} h256" stroke="#4e2f18" stroke-width="5"/><path d="M${(i * 67) % 256} ${i * 32} v32" stroke="#4e2f18" stroke-width="4"/>`).join('')}`,
    64,
    64,
  );
  const sail = await draw(
    `<rect width="256" height="256" fill="#e7dcc0"/>${[0, 1, 2, 3].map((i) => `<path d="M${i * 64 + 16} 0 v256" stroke="#9c4a34" stroke-width="26"/>`).join('')}`,
    64,
    64,
  );
  const woods = [
    { name: 'timber', picture: 'ships/cog_timber.print' },
    { name: 'sailcloth', picture: '' },
  ];
  return [
    { path: 'ships/cog.carving', data: writeCarving(cog(), woods) },
    { path: 'ships/cog_timber.print', data: writePrint(timber, 'rgba8'), loose: true },
    { path: 'ships/cog_sail.print', data: writePrint(sail, 'rgba8'), loose: true },
  ];
}

function tables(): StoreItem[] {
  const goods = Object.keys(PROPS).map((name, i) => `${name};${3 + ((i * 7) % 23)};${1 + (i % 5)}`);
  const text = (path_: string, body: string): StoreItem => ({
    path: path_,
    data: Buffer.from(body, 'latin1'),
  });
  return [
    text('ledger/goods.txt', `good;price;weight\r\n${goods.join('\r\n')}\r\n`),
    text(
      'ledger/tides.txt',
      PLACES.map((place, i) => `${place};${(i * 5) % 12};${6 + (i % 4)}\r\n`).join(''),
    ),
    ...PLACES.map((place, i) =>
      text(
        `harbours/${place}.txt`,
        `[harbour]\r\nname=${place}\r\ndepth=${3 + (i % 6)}\r\ntoll=${i % 3}\r\nnote=A good harbour for ${goods[i % goods.length]!.split(';')[0]}.\r\n`.repeat(
          4,
        ),
      ),
    ),
  ];
}

/** A harbour's things, with two pictures in its ground that nothing points at. */
async function harbour(
  place: (typeof PLACES)[number],
  n: number,
  machine: 'desk' | 'hand',
): Promise<Harbour> {
  const random = seeded(`harbour ${place}`);
  const noise = (length: number): Buffer =>
    Buffer.from(Array.from({ length }, () => Math.floor(random() * 16)));
  const view = await draw(placeDrawing(place, 'dusk'), 128, 64, '0 0 512 256');
  const board = await draw(
    `<rect width="256" height="256" fill="#7d5232"/>${lettering(place.replace(/_/g, ' '), 128, 128, 30, '#f3e3b8')}`,
    64,
    64,
  );
  return {
    berths: PEOPLE.map((name, i) => ({ name, x: 40 * i - 90, y: n * 13 - i })),
    ground: Buffer.concat([
      noise(700),
      texelsFor(view, machine),
      noise(333),
      texelsFor(board, machine),
      noise(90),
    ]),
    pictures: [
      { pixels: view, name: 'view' },
      { pixels: board, name: 'board' },
    ],
  };
}

/** The list of names as it was printed on paper and typed in again. */
const printed = (items: readonly StoreItem[]): string =>
  items.map(({ path: name }) => name.toUpperCase().replaceAll('/', '\\')).join('\r\n');

/** Writes the folder of Tallow & Tide. */
export async function buildTallow(folder: string): Promise<void> {
  const written: { name: string; data: Buffer }[] = [];
  const write = (name: string, data: Buffer | string): void => {
    const bytes = Buffer.from(data as string, 'latin1');
    fs.mkdirSync(path.dirname(path.join(folder, name)), { recursive: true });
    fs.writeFileSync(path.join(folder, name), bytes);
    written.push({ name, data: bytes });
  };
  const items = [...tables(), ...(await pictures()), ...sounds(), ...(await films()), ...(await ships())];
  const { list, bulk } = writeStores(items);
  write('tallow.bin', programFile('Tallow', 1 << 17, [], 'Tallow & Tide 1.4 Brackish Pup'));
  write('stores.list', list);
  write('stores.bulk', bulk);
  write('printed-names.txt', `Names of the stores, as printed\r\n\r\n${printed(items)}\r\n`);
  for (const [n, place] of PLACES.slice(0, 3).entries()) {
    write(`harbours/${place}.harbour`, writeHarbour(await harbour(place, n, 'desk'), 'desk'));
    write(`harbours/hand/${place}.harbour`, writeHarbour(await harbour(place, n, 'hand'), 'hand'));
  }
  const lines = written.map(
    ({ name, data }) =>
      `${zlib.crc32(data).toString(16).padStart(8, '0')} ${String(data.length).padStart(9)} ${name}`,
  );
  write('manifest.txt', `${lines.join('\r\n')}\r\n`);
}
