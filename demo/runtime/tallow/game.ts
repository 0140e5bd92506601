import fs from 'node:fs';
import path from 'node:path';
import zlib from 'node:zlib';
import type { Picture } from '../common/picture';
import { Stall } from '../common/stall';
import { logged, type LogLine, type Note } from '../common/log';
import { callToWave } from './call';
import { readHarbour } from './harbour';
import { readPrint } from './pictures';
import { Stores } from './stores';

/** What the quay is made of; only what was really loaded. */
export interface Quay {
  pictures: Map<string, Picture>;
  line: string;
  call: Buffer;
}

export interface Run {
  loaded: boolean;
  log: LogLine[];
  quay: Quay | undefined;
}

const TRADERS = 'odd otter bog_heron'.split(' ');

/** Loads a folder as the harbour game would, up to its first quay. */
export function play(folder: string): Run {
  const { made, ...rest } = logged('the game', (note) => {
    const quay = load(folder, note);
    note('note', 'jetty', 'the quay stands');
    return quay;
  });
  return { ...rest, quay: made };
}

function load(folder: string, note: Note): Quay {
  const file = (name: string): string => path.join(folder, name);
  const stores = new Stores(file('stores.list'), file('stores.bulk'));
  note('mounted', 'stores.list', `${stores.count} stores`);
  const take = (wanted: string): Buffer => {
    const bytes = stores.take(wanted);
    note('took', wanted, `${bytes.length} bytes`, 'stores.bulk');
    return bytes;
  };
  const pictures = new Map<string, Picture>();
  for (const who of TRADERS) {
    const name = `traders/${who}.print`;
    if (stores.has(name)) pictures.set(who, readPrint(take(name), name));
  }
  for (const name of harbourFiles(folder)) {
    const { machine, berths, pictures: own } = readHarbour(fs.readFileSync(file(name)), name);
    note('took', name, `${berths} berths, for the ${machine}`, name);
    const place = path.basename(name, '.harbour');
    for (const [what, picture] of own) pictures.set(`${machine} ${place} ${what}`, picture);
  }
  checkManifest(folder, note);
  const text = take('harbours/jetty.txt').toString('latin1');
  const line = /^note=(.+?)\r?$/m.exec(text)?.[1];
  if (line === undefined) throw new Stall('harbours/jetty.txt', 'note', 'it has none');
  const call = 'calls/trader_1.call';
  return { pictures, line, call: callToWave(take(call), call) };
}

function harbourFiles(folder: string): string[] {
  const found = ['harbours', 'harbours/hand'].flatMap((place) => {
    const at = path.join(folder, place);
    return fs.existsSync(at) ? fs.readdirSync(at).map((name) => `${place}/${name}`) : [];
  });
  const harbours = found.filter((name) => name.endsWith('.harbour')).sort();
  if (harbours.length === 0) throw new Stall('harbours', 'files', 'there is no harbour to sail to');
  return harbours;
}

/** The manifest is for the shop's checker; the game itself only says what it no longer agrees with. */
function checkManifest(folder: string, note: Note): void {
  const manifest = path.join(folder, 'manifest.txt');
  if (!fs.existsSync(manifest)) return;
  for (const row of fs.readFileSync(manifest, 'latin1').split(/\r?\n/)) {
    const [, sum, , name] = /^([0-9a-f]{8}) +(\d+) (.+)$/.exec(row) ?? [];
    if (!name) continue;
    const at = path.join(folder, name);
    const now = fs.existsSync(at) ? zlib.crc32(fs.readFileSync(at)).toString(16).padStart(8, '0') : undefined;
    if (now === undefined) note('note', name, 'the manifest has it, the folder does not');
    else if (now !== sum) note('note', name, 'is no longer what the manifest says');
  }
}
