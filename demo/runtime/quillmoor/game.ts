import fs from 'node:fs';
import path from 'node:path';
import { logged, type LogLine, type Note } from '../common/log';
import { Stall } from '../common/stall';
import { readLeaf } from './leaf';
import { unmasked } from './mask';
import { readPlate, type Plate } from './plate';
import { TABLE_NAMES } from './shapes';
import { stepsOf } from './steps';
import { readStory, type Row, type Story } from './story';
import { walk, type Walked } from './walk';

/** What a place looks like with who is there; only what was really loaded. */
export interface Moor extends Walked {
  readonly plates: ReadonlyMap<string, Plate>;
  /** The ground of the place, row by row. */
  readonly ground: readonly (readonly string[])[];
  readonly stirs: readonly { readonly q: number; readonly r: number; readonly name: string }[];
  readonly bell: Buffer;
}

export interface Run {
  readonly loaded: boolean;
  readonly log: LogLine[];
  readonly moor: Moor | undefined;
}

const MOODS = ['calm', 'wary', 'glad', 'cross'] as const;

/** Loads a project folder as the letter game would, and plays it until a promise is kept. */
export function play(folder: string): Run {
  const { made, ...rest } = logged('the game', (note) => load(folder, note));
  return { ...rest, moor: made };
}

function load(folder: string, note: Note): Moor {
  const seed = seedIn(folder);
  const take = (name: string): Buffer => {
    const file = path.join(folder, name);
    if (!fs.existsSync(file)) throw new Stall(name, 'file', 'it is not there');
    const bytes = fs.readFileSync(file);
    note('took', name, `${bytes.length} bytes`, path.dirname(name));
    return unmasked(bytes, path.basename(name), seed);
  };
  const tables = tablesFolder(folder);
  const story = readStory((table) => readLeaf(take(`${tables}/${table}.leaf`), `${table}.leaf`));
  for (const scene of story.get('scenes')!.values()) stepsOf(scene, story);
  const rows = TABLE_NAMES.reduce((sum, table) => sum + story.get(table)!.size, 0);
  note('mounted', tables, `${TABLE_NAMES.length} tables, ${rows} rows, every number leads to a row`);
  const walked = walk(story, note);
  const plates = new Map<string, Plate>();
  const plate = (name: string): string => {
    const file = `plates/${name}.plate`;
    if (!plates.has(name)) plates.set(name, readPlate(take(file), file));
    return name;
  };
  if (walked.place.plate !== '') plate(String(walked.place.plate));
  for (const one of walked.people) if (one.plate !== '') plate(faceOf(one));
  const ground = groundOf(walked.place, story).map((across) => across.map((looks) => plate(looks)));
  const bell = take('notes/post_bell.note');
  if (bell.toString('latin1', 0, 4) !== 'RIFF')
    throw new Stall('notes/post_bell.note', 'mask', 'what comes out from under it is no sound');
  note('note', String(walked.place.name), `${walked.kept.length} promises kept, the moor stands`);
  return { ...walked, plates, ground, stirs: stirsOf(walked.place, story), bell };
}

/** The picture of a person in the mood that they are in. */
export const faceOf = ({ plate, mood }: Row): string =>
  String(plate).replace(/_[a-z]+$/, `_${MOODS[mood as number]!}`);

function seedIn(folder: string): number {
  const file = path.join(folder, 'quillmoor.bin');
  if (!fs.existsSync(file)) throw new Stall('quillmoor.bin', 'file', 'the program is not there');
  const program = fs.readFileSync(file);
  return program.readUInt32LE(Math.floor(program.length * 0.61) | 7);
}

function tablesFolder(folder: string): string {
  const file = path.join(folder, 'project.json');
  if (!fs.existsSync(file)) throw new Stall('project.json', 'file', 'it is not there');
  let project: unknown;
  try {
    project = JSON.parse(fs.readFileSync(file, 'utf8'));
  } catch (error) {
    throw new Stall('project.json', 'form', (error as Error).message);
  }
  const { tables } = (project ?? {}) as { readonly tables?: unknown };
  if (typeof tables !== 'string' || !/^[a-z]+$/i.test(tables))
    throw new Stall('project.json', 'tables', 'it names no folder');
  return tables;
}

function groundOf({ id, across, tiles }: Row, story: Story): string[][] {
  const [wide, all] = [across as number, tiles as number[]];
  if (all.length === 0 || all.length % wide !== 0)
    throw new Stall('places.leaf', `row ${id}, tiles`, `${all.length} do not fill rows of ${wide}`);
  const looks = all.map((tile) => String(story.get('grounds')!.get(tile)!.looks));
  return Array.from({ length: all.length / wide }, (_, row) => looks.slice(row * wide, (row + 1) * wide));
}

function stirsOf(place: Row, story: Story): Moor['stirs'] {
  return [...story.get('stirs')!.values()]
    .filter((one) => one.place === place.id)
    .map(({ q, r, who, thing }) => {
      const is = story.get('people')!.get(who as number) ?? story.get('items')!.get(thing as number);
      return { q: q as number, r: r as number, name: String(is?.name ?? 'something') };
    });
}
