import { LRUCache } from 'lru-cache';
import { tongueName } from '@/core/catalogue';
import {
  formLine,
  formOf,
  idOf,
  isFormOf,
  LineIndex,
  Memory,
  missingForms,
  sideBySide,
  textNow,
  type DeskLine,
  type LineWork,
} from '@/media/text/core/desk';
import {
  checkLine,
  type LineFinding,
  type LineFonts,
  type LineTable,
  type Term,
} from '@/media/text/core/lines';
import { DeskTermRow, DeskTextRow, DeskTongueRow } from '@/db';
import { gameCatalogue, type GameCatalogue } from '../entries/catalogue';
import { activeInstallation } from '../installing/installations';
import { onlyInstalled } from '../mods/change-slot';
import { modRow } from '../mods/mods';
import { mediaScriptEndings, scriptsStamp } from '../opening/scripts';
import { UserError } from '@/platform/user-error';
import { findTables, type TableFile, type TableGroup } from './find-tables';
import { fontsOf, fontsStamp, type GameFont } from './fonts';
import { heldOf } from './held-texts';
import { notify } from './live';
import { readTable } from './read-tables';

/** Which languages stand side by side. */
export interface DeskTongues {
  readonly source: string;
  readonly target: string;
  readonly others: readonly string[];
}

/** A table of the game as the desk has it. */
export interface DeskTable {
  readonly place: string;
  readonly group: TableGroup;
  readonly source:
    { readonly file: TableFile; readonly table: LineTable; readonly column: number } | undefined;
  /** Where the texts that are worked on go; undefined where the game has no table in that language yet. */
  readonly target:
    { readonly file: TableFile; readonly table: LineTable; readonly column: number } | undefined;
}

export interface Desk {
  readonly gameId: number;
  readonly modId: number;
  readonly tongues: DeskTongues;
  readonly lines: DeskLine[];
  readonly tables: ReadonlyMap<string, DeskTable>;
  readonly byId: LineIndex;
  /** What was made of each line, by its number. */
  readonly work: Map<number, LineWork>;
  /** What was found in each line; undefined where it was not looked at yet. */
  readonly findings: (readonly LineFinding[] | undefined)[];
  terms: readonly Term[];
  /** Keys of forms that the language has and a table lacks, by what tells the line of the usual form apart. */
  lacking: ReadonlyMap<string, readonly string[]>;
  /** Fonts that the language that is worked on is drawn with. */
  readonly fonts: readonly GameFont[];
  readonly memory: Memory;
  /** Tables that cannot be read, and why. */
  readonly problems: readonly { readonly path: string; readonly why: string }[];
  /** Goes up with everything that changes. */
  version: number;
  /** Looking at all lines, while that goes on. */
  checking: Promise<void> | undefined;
}

declare global {
  var zeroLatchDesks: LRUCache<string, { stamp: string; desk: Promise<Desk> }> | undefined;
}
/** Each holds all lines of a game. */
const MOST_DESKS = 4;
const desks = (): LRUCache<string, { stamp: string; desk: Promise<Desk> }> =>
  (globalThis.zeroLatchDesks ??= new LRUCache({ max: MOST_DESKS }));

/** Changes whenever the tables of a game may be others. */
async function stampOf(gameId: number, { scan, archives }: GameCatalogue): Promise<string> {
  const installed = await activeInstallation(gameId);
  const scripts = `${scriptsStamp('lines')} ${scriptsStamp('font')}`;
  return `${scan} ${archives.map(({ rank }) => rank).join()} ${installed?.id ?? 0} ${scripts}`;
}

async function scannedGame(gameId: number): Promise<GameCatalogue> {
  const game = await gameCatalogue(gameId);
  if (game) return game;
  throw new UserError(409, 'The game is not scanned yet. Scan its folder first.');
}

/** The lines of a game in the languages that are asked for, with what a mod made of them. It is kept, and follows what is done to it. */
export async function openDesk(gameId: number, modId: number, tongues: DeskTongues): Promise<Desk> {
  await modRow(gameId, modId);
  const game = await scannedGame(gameId);
  const held = JSON.stringify([...(await heldOf(modId))]);
  const stamp = `${await stampOf(gameId, game)} ${await fontsStamp(modId)} ${held}`;
  const name = [gameId, modId, tongues.source, tongues.target, ...tongues.others].join(' ');
  const known = desks().get(name);
  if (known?.stamp === stamp) return known.desk;
  const desk = makeDesk(gameId, modId, tongues, stamp);
  desks().set(name, { stamp, desk });
  desk.catch(() => desks().delete(name));
  return desk;
}

/** Desks of a mod that are open, in one language that is worked on or in all. */
export async function openDesks(modId: number, target?: string): Promise<Desk[]> {
  const open = await Promise.allSettled([...desks().values()].map(({ desk }) => desk));
  return open.flatMap((one) =>
    one.status === 'fulfilled' &&
    one.value.modId === modId &&
    (target === undefined || one.value.tongues.target === target)
      ? [one.value]
      : [],
  );
}

async function tablesOfGame(gameId: number, modId: number): Promise<{ groups: TableGroup[]; stamp: string }> {
  const game = await scannedGame(gameId);
  const endings = mediaScriptEndings('lines');
  const stamp = await stampOf(gameId, game);
  const isBrought = await onlyInstalled(gameId);
  const held = await heldOf(modId);
  return { groups: findTables(game, (ending) => endings.has(`.${ending}`), isBrought, held), stamp };
}

/** A language of a game, as far as it has tables in it. */
export interface GameTongue {
  readonly tongue: string;
  readonly name: string;
  readonly tables: number;
  /** Whether the mod brings it. */
  readonly isNew: boolean;
}

/** The languages that a game has tables in, the one with most first, and those that a mod brings. */
export async function gameTongues(gameId: number, modId: number): Promise<GameTongue[]> {
  const { groups, stamp } = await tablesOfGame(gameId, modId);
  const counts = new Map<string, number>();
  const count = (tongue: string): void => void counts.set(tongue, (counts.get(tongue) ?? 0) + 1);
  for (const { files } of groups)
    for (const [tongue, file] of files)
      if (tongue !== '') count(tongue);
      else for (const own of (await readTable(gameId, file, stamp)).table?.tongues ?? []) count(own);
  const brought = await DeskTongueRow.findAll({ where: { modId } });
  const found = [...counts]
    .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1))
    .map(([tongue, tables]): GameTongue => ({
      ...{ tongue, tables, isNew: false },
      name: tongue === '' ? 'No language' : tongueName(tongue),
    }));
  return [
    ...found,
    ...brought
      .filter(({ tongue }) => !counts.has(tongue))
      .map(({ tongue, name }) => ({ tongue, name, tables: 0, isNew: true })),
  ];
}

async function makeDesk(gameId: number, modId: number, tongues: DeskTongues, scan: string): Promise<Desk> {
  const { groups } = await tablesOfGame(gameId, modId);
  const written = await DeskTextRow.findAll({ where: { modId, tongue: tongues.target }, raw: true });
  const problems: { path: string; why: string }[] = [];
  const tables = new Map<string, DeskTable>();
  const lines: DeskLine[] = [];
  const inTongue = async (group: TableGroup, tongue: string) => {
    for (const file of [group.files.get(tongue), group.files.get('')]) {
      if (!file) continue;
      const { table, problem } = await readTable(gameId, file, scan);
      if (problem !== undefined) problems.push({ path: file.record.path, why: problem });
      // A table in no language is the same in all.
      const column = table ? Math.max(table.tongues.indexOf(tongue), table.tongues.indexOf('')) : -1;
      if (table && column >= 0) return { file, table, column };
    }
    return undefined;
  };
  for (const group of groups) {
    const source = await inTongue(group, tongues.source);
    const target = await inTongue(group, tongues.target);
    if (!source && !target) continue;
    const others = await Promise.all(tongues.others.map((tongue) => inTongue(group, tongue)));
    const { place } = group;
    tables.set(place, { place, group, source, target });
    for (const line of sideBySide(place, source, target, others)) lines.push(line);
  }
  const byId = new LineIndex(lines);
  addForms(lines, byId, written);
  const work = new Map<number, LineWork>();
  for (const row of written) {
    const number = byId.get(row);
    if (number !== undefined) work.set(number, workOf(row));
  }
  const desk: Desk = {
    ...{ gameId, modId, tongues, lines, tables, byId, work, problems },
    memory: new Memory(),
    lacking: lackingIn(lines, tongues.target),
    findings: new Array<undefined>(lines.length).fill(undefined),
    terms: await termsOf(modId, tongues.target),
    fonts: await fontsOf(gameId, modId, await scannedGame(gameId), tongues.target, textsOf(lines)),
    ...{ version: Date.now(), checking: undefined },
  };
  void remember(desk);
  return desk;
}

/** Adds lines for forms that the game has not and that were written here. */
function addForms(lines: DeskLine[], byId: LineIndex, written: readonly DeskTextRow[]): void {
  for (const row of written) {
    if (byId.has(row) || !formOf(row.key)) continue;
    const like = lines.find((line) => line.place === row.place && isFormOf(row.key, line));
    if (like) byId.set(row, lines.push(formLine(like, row)) - 1);
  }
}

/** Forms of counts that a language has and tables lack. */
export function lackingIn(lines: readonly DeskLine[], tongue: string): Map<string, readonly string[]> {
  const keys = new Map<string, string[]>();
  for (const { place, key } of lines) {
    if (!formOf(key)) continue;
    const own = keys.get(place);
    if (own) own.push(key);
    else keys.set(place, [key]);
  }
  const found = new Map<string, readonly string[]>();
  for (const [place, own] of keys)
    for (const [key, lacks] of missingForms(own, tongue)) found.set(idOf({ place, key, nth: 0 }), lacks);
  return found;
}

/** Remembers what is said by now, while others are served. */
async function remember({ lines, work, memory }: Desk): Promise<void> {
  for (let number = 0; number < lines.length; number++) {
    memory.add(lines[number]!.source ?? '', textNow(lines[number]!, work.get(number)));
    if (number % LINES_AT_ONCE === LINES_AT_ONCE - 1) await breath();
  }
}

/** So many lines are gone through before others get their turn. */
const LINES_AT_ONCE = 500;
const breath = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

export const workOf = ({ text, state, byWhom, changedAt }: DeskTextRow): LineWork => ({
  ...{ text, state, by: byWhom },
  at: changedAt.toISOString(),
});

export const termsOf = async (modId: number, tongue: string): Promise<Term[]> =>
  (await DeskTermRow.findAll({ where: { modId, tongue }, order: [['source', 'ASC']], raw: true })).map(
    ({ source, target }) => ({ source, target }),
  );

function* textsOf(lines: readonly DeskLine[]): Iterable<string> {
  for (const { was, source } of lines) yield was ?? source ?? '';
}

/** What a line is drawn with: the font that its table says, else those of the game that are for texts. */
function fontsFor(desk: Desk, { font }: DeskLine): LineFonts | undefined {
  const said = font === undefined ? undefined : desk.fonts.find(({ path }) => isSamePath(path, font));
  if (said) return { fonts: [said], isSaid: true };
  const fonts = desk.fonts.filter(({ isForTexts }) => isForTexts);
  return fonts.length > 0 ? { fonts, isSaid: false } : undefined;
}

const isSamePath = (path: string, said: string): boolean => path.toLowerCase() === said.toLowerCase();

/** What is found in a text of a line. */
export function findingsOf(desk: Desk, number: number, text: string): LineFinding[] {
  const line = desk.lines[number]!;
  const { source, target } = desk.tables.get(line.place)!;
  const table = (target ?? source)!.table;
  // The original language is not held against itself.
  const isOwn = desk.tongues.source === desk.tongues.target;
  const found = checkLine(text, {
    source: isOwn ? undefined : line.source,
    limit: line.limit,
    bytesOf: (of) => table.bytesOf(of, line.key),
    forbidden: table.forbidden,
    fonts: fontsFor(desk, line),
    width: line.width,
    terms: desk.terms,
    isTwice: line.isTwice,
  });
  const lacks = desk.lacking.get(idOf(line));
  if (text === '' || !lacks) return found;
  const forms = lacks.map((key) => formOf(key)!.form).join(', ');
  return [
    ...found,
    {
      ...{ code: 'forms', state: 'look', what: `${tongueName(desk.tongues.target)} also has ${forms}` },
      why: 'The game would ask for these forms with some counts, and not find them',
    },
  ];
}

/** Looks at all lines that were not looked at yet; others are served meanwhile. */
export function checkAll(desk: Desk): Promise<void> {
  desk.checking ??= checkNow(desk).finally(() => (desk.checking = undefined));
  return desk.checking;
}

async function checkNow(desk: Desk): Promise<void> {
  for (let number = 0; number < desk.lines.length; number++) {
    if (desk.findings[number]) continue;
    desk.findings[number] = findingsOf(desk, number, textNow(desk.lines[number]!, desk.work.get(number)));
    if (number % LINES_AT_ONCE === LINES_AT_ONCE - 1) await breath();
  }
}

/** Of more lines than this it is told how far they are before all were looked at. */
const MOST_AWAITED = 10_000;

/** Looks at all lines where that is soon done; else it goes on by itself and is told once it is. Gives how many were looked at. */
export async function checkSoon(desk: Desk): Promise<number> {
  let left = 0;
  for (const found of desk.findings) if (!found) left++;
  if (left === 0) return desk.lines.length;
  const all = checkAll(desk);
  if (left <= MOST_AWAITED) await all;
  else void all.then(() => notify(desk.modId));
  return desk.lines.length - (left <= MOST_AWAITED ? 0 : left);
}
