import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { logged, type LogLine, type Note } from '../common/log';
import { coloured, lit } from './channels';
import { boxesIn, readGlyphs } from './glyphs';
import { Hold } from './hold';
import { Hold4 } from './hold4';
import { pathNumber, type EngineHold } from './mounted-hold';
import { poseOf, readForm } from './form';
import { readLevel } from './layout';
import { hangPuppet } from './puppet';
import { drawForm } from './stage';
import type { Picture } from '../common/picture';
import { sayingOf, tonguesOf } from './sayings';
import { readSheet } from './sheet';
import { Songbook, type Played } from './songbook';
import { readSpool, type Film } from './spool';
import { Stall } from '../common/stall';

/** What the scene is made of; only what was really loaded. */
export interface Scene {
  name: string;
  tongue: string;
  backdrop: Picture;
  figure: Picture;
  title: Picture;
  /** What else the scene shows, by what it is; only what its plan names. */
  more: Record<string, Picture>;
  line: string;
  /** What is said besides, and the languages that the menu offers; only what its plan names. */
  talk: string;
  tongues: { code: string; name: string }[];
  voice: Buffer;
  water: Buffer;
  /** A take of a songbook, where its plan names one. */
  song: Played | undefined;
  /** The films that its plan names, with what is written below them in the tongue that is set. */
  films: (Film & { written: Written[] })[];
}

/** A text below a film, in thousandths of a second. */
export interface Written {
  from: number;
  to: number;
  text: string;
}

export interface Run {
  loaded: boolean;
  log: LogLine[];
  scene: Scene | undefined;
}

/** The rate that the engine's mixer runs at, in hertz. */
const MIXER_RATE = 22050;

/** Versions of the engine, each of which mounts its own holds only. */
export type EngineVersion = 3 | 4;

/** Loads a game folder as the engine would, up to its first scene. */
export function play(folder: string, version: EngineVersion = 3, chosen?: string): Run {
  const { made, ...rest } = logged('the engine', (note) => {
    const scene = load(folder, version, note, chosen);
    note('note', scene.name, 'the scene stands');
    return scene;
  });
  return { ...rest, scene: made };
}

/** The key that a program carries. */
function keyIn(folder: string, name: string): Buffer {
  const program = fs.readFileSync(path.join(folder, name));
  const spot = Math.floor(program.length * 0.61) | 7;
  return program.subarray(spot, spot + 32);
}

/** Programs of expansions, which carry keys of their own. */
const EXPANSIONS = ['frostwater.bin'];

function mounter(folder: string, version: EngineVersion): (file: string) => EngineHold {
  const key = keyIn(folder, 'Lanternfen.bin');
  if (version === 3) return (file) => new Hold(file, key);
  const there = EXPANSIONS.filter((name) => fs.existsSync(path.join(folder, name)));
  const keys = [key, ...there.map((name) => keyIn(folder, name))];
  return (file) => new Hold4(file, keys);
}

function load(folder: string, version: EngineVersion, note: Note, chosen?: string): Scene {
  const mount = mounter(folder, version);
  const file = path.join(folder, 'settings.ini');
  if (!fs.existsSync(file)) throw new Stall('settings.ini', 'file', 'it is missing from the game folder');
  const settings = fs.readFileSync(file, 'utf8');
  const setting = (name: string, otherwise: string): string =>
    new RegExp(`^${name}=(.+)$`, 'm').exec(settings)?.[1]?.trim() ?? otherwise;
  const holds = fs
    .readdirSync(path.join(folder, 'holds'))
    .filter((name) => name.endsWith('.hold'))
    .sort()
    .map((name) => mount(path.join(folder, 'holds', name)))
    .sort((a, b) => a.rank - b.rank);
  for (const hold of holds) note('mounted', hold.name, `${hold.count} entries, rank ${hold.rank}`);
  // What is chosen in the menu goes before what was set.
  const tongue = chosen ?? setting('tongue', 'en');
  const books = songbooks(folder, tongue);
  for (const { name: book, count } of books) note('mounted', `${book}.songbook`, `${count} takes`);

  const take = (wanted: string): Buffer => {
    const loose = looseFile(folder, wanted);
    if (loose) {
      note('took', wanted, `${loose.length} bytes`, LOOSE);
      return loose;
    }
    const hold = holds.findLast((one) => one.has(wanted));
    if (!hold) throw new Stall(wanted, 'name', 'no hold has it');
    const bytes = hold.take(wanted);
    note('took', wanted, `${bytes.length} bytes`, hold.name);
    return bytes;
  };
  const takeHashed = (hash: bigint): Buffer => {
    const hold = holds.findLast((one) => one.hasHash(hash));
    if (!hold) throw new Stall(`#${hash.toString(16).padStart(16, '0')}`, 'name', 'no hold has it');
    const bytes = hold.takeHash(hash);
    note('took', `#${hash.toString(16).padStart(16, '0')}`, `${bytes.length} bytes`, hold.name);
    return bytes;
  };
  const name = setting('scene', 'jetty');
  const plan = parseScene(take(`scenes/${name}.scene`), name);
  const level = `levels/${name}.layout`;
  if (looseFile(folder, level) ?? holds.some((one) => one.has(level))) {
    const { pieces, forms } = readLevel(take(level), take('levels/pieces.json'), level);
    for (const form of forms)
      if (!holds.some((one) => one.has(form)) && !looseFile(folder, form))
        throw new Stall(level, 'form', `no hold has ${form}`);
    note('note', level, `${pieces} pieces stand, of ${forms.size} forms`);
  }
  const spoken = (file: string): string => file.replace(/^(text|voice)\/[a-z]+\//, `$1/${tongue}/`);
  const sheet = (file: string): Picture => readSheet(take(file), file);
  const more: Record<string, Picture> = {};
  for (const part of MORE_PARTS) if (plan[part]) more[part] = sheet(plan[part]);
  if (plan.puppet) {
    const [stage = '', puppet = ''] = plan.puppet.split(' ');
    const [pieces, list] = [`puppets/${stage}/pieces.sheet`, `puppets/${stage}/pieces.csv`];
    more.puppet = hangPuppet(sheet(pieces), take(list).toString('utf8'), puppet, pieces);
  }
  const formed = (file: string, move?: readonly string[]): Picture => {
    const form = readForm(take(file), file);
    const [gait, clip = '', frame = '0'] = move ?? [];
    const pose = gait === undefined ? undefined : poseOf(take(gait), gait, clip, Number(frame));
    const sheets = new Map(
      [...new Set(form.paints)].filter((paint) => paint !== '').map((paint) => [paint, sheet(paint)]),
    );
    return drawForm(
      form,
      form.paints.map((paint) => sheets.get(paint)),
      pose,
    );
  };
  if (plan.creature) {
    const [file = '', ...move] = plan.creature.split(' ');
    more.creature = formed(file, move);
  }
  if (plan.lamp) more.lamp = formed(plan.lamp);
  if (plan.plumage) {
    const [colour = '', maps = ''] = plan.plumage.split(' ');
    more.plumage = lit(sheet(colour), sheet(maps), maps);
  }
  if (plan.frame) {
    const [mask = '', ...colours] = plan.frame.split(' ');
    more.frame = coloured(sheet(mask), colours, mask);
  }
  if (plan.ground) {
    const far = farHalf(take('links/sheets.links'), plan.ground);
    more['ground near'] = sheet(plan.ground);
    more['ground far'] = readSheet(takeHashed(far.hash), `the far half of ${plan.ground}`);
    const { near, distant } = { near: more['ground near'], distant: more['ground far'] };
    const why = halvesDiffer(near, distant, far);
    if (why) throw new Stall(plan.ground, 'link', why);
  }
  const sung = (asked: string): Played => {
    const [title = '', song = ''] = asked.split(' ');
    // Books that end in a dash and its title are laid over it; the last by rank that has the take is heard.
    const own = books.filter(({ name: file }) => file === title || file.endsWith(`-${title}`));
    // In the tongue that is set where it was recorded in it.
    const inTongue = `${tongue}/${song}`;
    const spokenBook = own.findLast((one) => one.has(inTongue));
    const book = spokenBook ?? own.findLast((one) => one.has(song)) ?? own.at(-1);
    if (!book) throw new Stall(asked, 'song', `there is no songbook ${title}`);
    const taken = spokenBook ? inTongue : song;
    const played = book.take(taken);
    note('took', taken, `${played.data.length} bytes`, `${book.name}.songbook`);
    return played;
  };
  const said = (asked: string): string => {
    const [file = '', name = ''] = asked.split(' ');
    const widths = plan.font ? readGlyphs(take(plan.font), plan.font) : undefined;
    const text = sayingOf(take(spoken(file)), name, spoken(file), widths);
    // Nothing stops here; players see a box.
    const boxes = widths ? boxesIn(text.replace(/<[^>]*>|\{[^{}]*\}/g, ''), widths) : [];
    if (boxes.length > 0) note('note', plan.font!, `a box is drawn for ${boxes.join(' ')} of ${name}`);
    return text;
  };
  const showFilm = (asked: string): Film & { written: Written[] } => {
    const [first = '', within] = asked.split(' ');
    const isSpool = within === undefined;
    const file = path.join(folder, 'spools', `${first}.spool`);
    if (isSpool && !fs.existsSync(file)) throw new Stall(`${first}.spool`, 'file', 'it is missing');
    const bytes = isSpool ? fs.readFileSync(file) : fromInner(take(first), within, mount);
    const label = isSpool ? `${first}.spool` : `${first}/${within}`;
    const film = readSpool(bytes, label, keyIn(folder, 'Lanternfen.bin'), tongue);
    note(
      'took',
      label,
      `${film.pictures} pictures of ${film.width} x ${film.height}, sound ${film.tongue || 'none'}`,
    );
    return { ...film, written: writtenBelow(film, () => take(`text/${tongue}/films.lines`), folder) };
  };
  return {
    name,
    tongue,
    more,
    films: ['film', 'reel'].flatMap((part) => (plan[part] ? [showFilm(plan[part])] : [])),
    song: plan.song ? sung(plan.song) : undefined,
    backdrop: sheet(plan.backdrop!),
    figure: sheet(plan.figure!),
    title: sheet(plan.title!),
    talk: plan.talk ? said(plan.talk) : '',
    tongues: plan.menu ? tonguesOf(take(plan.menu)) : [],
    line: lineOf(take(spoken(plan.lines!)), plan.line!, plan.lines!),
    voice: wave(take(plan.voice!), plan.voice!),
    water: wave(take(plan.water!), plan.water!),
  };
}

/** An entry of a hold that is an entry of another one. */
function fromInner(hold: Buffer, wanted: string, mount: (file: string) => EngineHold): Buffer {
  const inside = fs.mkdtempSync(path.join(os.tmpdir(), 'stand-in-hold-'));
  try {
    const file = path.join(inside, 'inner.hold');
    fs.writeFileSync(file, hold);
    return mount(file).take(wanted);
  } finally {
    fs.rmSync(inside, { recursive: true });
  }
}

/** What marks of a film say is to be written below it: `say ID MILLISECONDS`, the text being in the lines of films. */
function writtenBelow({ marks, name }: Film, lines: () => Buffer, folder: string): Written[] {
  const said = marks.flatMap(({ time, what }) => {
    const [, id, length] = /^say (\S+) (\d+)$/.exec(what) ?? [];
    return id ? [{ id, from: time, to: time + Number(length) }] : [];
  });
  if (said.length === 0) return [];
  if (name === 'toll.spool') return textsOfProgram(folder);
  const table = lines();
  return said.map(({ id, from, to }) => ({ from, to, text: lineOf(table, id, 'films.lines') }));
}

/** The texts of one film are kept in the program file: two times, and up to 56 bytes of text that end with a zero. */
function textsOfProgram(folder: string): Written[] {
  const program = fs.readFileSync(path.join(folder, 'Lanternfen.bin'));
  const found: Written[] = [];
  for (let at = 0x6000; program.readUInt32LE(at + 4) > 0; at += 64) {
    const end = program.indexOf(0, at + 8);
    if (end < 0 || end >= at + 64)
      throw new Stall('Lanternfen.bin', 'texts', `the text at ${at + 8} has no end`);
    found.push({
      ...{ from: program.readUInt32LE(at), to: program.readUInt32LE(at + 4) },
      text: program.toString('utf8', at + 8, end),
    });
  }
  return found;
}

/** The books of songs that lie in the game, then those of the tongue; a version that has none goes without. */
function songbooks(folder: string, tongue: string): Songbook[] {
  const key = keyIn(folder, 'Lanternfen.bin');
  return [path.join(folder, 'songs'), path.join(folder, 'songs', tongue)].flatMap((songs) => {
    if (!fs.existsSync(songs)) return [];
    const files = fs.readdirSync(songs).filter((name) => name.endsWith('.songbook'));
    const books = files.sort().map((name) => new Songbook(path.join(songs, name), key));
    return books.sort((a, b) => a.rank - b.rank);
  });
}

/** Where the engine looks before its holds. */
const LOOSE = 'spill';

/** A file of the spill folder, whatever the case of its path. */
function looseFile(folder: string, wanted: string): Buffer | undefined {
  let at = path.join(folder, LOOSE);
  for (const part of wanted.split('/')) {
    const found = fs.existsSync(at)
      ? fs.readdirSync(at).find((name) => name.toLowerCase() === part.toLowerCase())
      : undefined;
    if (found === undefined) return undefined;
    at = path.join(at, found);
  }
  return fs.statSync(at).isFile() ? fs.readFileSync(at) : undefined;
}

/** What a scene may show besides. */
const MORE_PARTS = ['glass', 'cape', 'outfit'];

interface FarHalf {
  hash: bigint;
  nearSide: number;
  farSide: number;
}

/** Finds the far half of a sheet in the table of links. */
function farHalf(table: Buffer, near: string): FarHalf {
  const what = 'links/sheets.links';
  if (table.length < 8 || table.toString('latin1', 0, 4) !== 'LINK')
    throw new Stall(what, 'table tag', 'this is no table of links');
  const count = table.readUInt32LE(4);
  if (table.length !== 8 + 24 * count)
    throw new Stall(what, 'table count', `${count} links, but ${table.length} bytes`);
  for (let at = 8; at < table.length; at += 24)
    if (table.readBigUInt64LE(at).toString() === pathNumber(near))
      return {
        hash: table.readBigUInt64LE(at + 8),
        nearSide: table.readUInt32LE(at + 16),
        farSide: table.readUInt32LE(at + 20),
      };
  throw new Stall(what, near, 'no link has it');
}

/** Both halves must be as large as the link says, and in one codec, or the ground would jump when one comes near. */
function halvesDiffer(near: Picture, far: Picture, { nearSide, farSide }: FarHalf): string | undefined {
  if (near.width !== nearSide) return `the near half is ${near.width} wide, the link says ${nearSide}`;
  if (far.width !== farSide) return `the far half is ${far.width} wide, the link says ${farSide}`;
  if (near.layout !== far.layout) return 'the halves are in two codecs';
  return undefined;
}

const SCENE_PARTS = ['backdrop', 'figure', 'title', 'lines', 'line', 'voice', 'water'];

function parseScene(bytes: Buffer, name: string): Record<string, string> {
  let plan: Record<string, unknown>;
  try {
    plan = JSON.parse(bytes.toString('utf8')) as Record<string, unknown>;
  } catch {
    throw new Stall(`scenes/${name}.scene`, 'text', 'it cannot be read');
  }
  for (const part of SCENE_PARTS)
    if (typeof plan[part] !== 'string') throw new Stall(`scenes/${name}.scene`, part, 'it is missing');
  return plan as Record<string, string>;
}

function lineOf(bytes: Buffer, id: string, what: string): string {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Stall(what, 'encoding', 'lines must be UTF-8');
  }
  const found = text.split('\n').find((row) => row.startsWith(`${id}\t`));
  if (!found) throw new Stall(what, id, 'there is no such line');
  return found.slice(id.length + 1).trim();
}

/** The mixer takes waves of one channel, 16 bits, at its own rate, and nothing else. */
function wave(bytes: Buffer, what: string): Buffer {
  if (
    bytes.length < 44 ||
    bytes.toString('latin1', 0, 4) !== 'RIFF' ||
    bytes.toString('latin1', 8, 16) !== 'WAVEfmt '
  )
    throw new Stall(what, 'wave head', 'this is no wave file');
  const facts = {
    format: bytes.readUInt16LE(20),
    channels: bytes.readUInt16LE(22),
    rate: bytes.readUInt32LE(24),
    bits: bytes.readUInt16LE(34),
  };
  if (facts.format !== 1 || facts.bits !== 16)
    throw new Stall(
      what,
      'wave format',
      `format ${facts.format} with ${facts.bits} bits; the mixer takes 16-bit samples`,
    );
  if (facts.channels !== 1) throw new Stall(what, 'wave channels', `${facts.channels}; the mixer takes one`);
  if (facts.rate !== MIXER_RATE)
    throw new Stall(what, 'wave rate', `${facts.rate} Hz; the mixer runs at ${MIXER_RATE} Hz`);
  if (bytes.readUInt32LE(4) + 8 !== bytes.length)
    throw new Stall(what, 'wave length', 'the head does not agree with the file');
  return bytes;
}
