import type { LengthLimit, LineFinding } from '@/media/text/core/lines';
import {
  idOf,
  pickLines,
  progressBy,
  textNow,
  type LineFacts,
  type LineId,
  type LineQuery,
  type LineState,
  type Progress,
  type Remembered,
} from '@/media/text/core/desk';
import { DeskNoteRow, DeskStepRow } from '@/db';
import { UserError } from '@/platform/user-error';
import type { EntryRecord } from '../entries/catalogue';
import {
  checkAll,
  checkSoon,
  findingsOf,
  gameTongues,
  type Desk,
  type DeskTongues,
  type GameTongue,
} from './desk';
import { writerOf, type Writer } from './writers';
import { picturesOf, voicesOf, type TiedEntry } from './tied-entries';
import { deskHistory, earlierTexts, type DeskHistory, type EarlierText } from './edit-lines';

/** A line as lists show it. */
export interface DeskRow extends LineId {
  readonly number: number;
  readonly source: string | null;
  readonly text: string;
  readonly was: string | null;
  readonly others: readonly (string | null)[];
  readonly speaker: string;
  readonly state: LineState | null;
  readonly by: string;
  readonly limit: LengthLimit | null;
  /** How wide it may be drawn, in units of its font. */
  readonly width: number | null;
  readonly wrong: number;
  readonly look: number;
  /** What is found first. */
  readonly found: string | null;
  readonly writer: Writer | null;
}

export interface DeskRows {
  readonly total: number;
  readonly rows: readonly DeskRow[];
  readonly version: number;
}

export interface DeskOverview {
  readonly tongues: readonly GameTongue[];
  readonly chosen: DeskTongues;
  readonly lines: number;
  /** How many of them were looked at by now. */
  readonly checked: number;
  readonly counts: Readonly<Record<'empty' | 'changed' | 'failing' | 'look' | 'done' | 'reviewed', number>>;
  readonly byTable: readonly (Progress & { readonly path: string })[];
  readonly bySpeaker: readonly Progress[];
  readonly problems: readonly { readonly path: string; readonly why: string }[];
  readonly history: DeskHistory;
  readonly terms: readonly { readonly source: string; readonly target: string }[];
  readonly version: number;
}

const factsOf =
  (desk: Desk) =>
  (number: number): LineFacts => {
    const found = desk.findings[number] ?? [];
    const wrong = found.filter(({ state }) => state === 'wrong').length;
    return { line: desk.lines[number]!, work: desk.work.get(number), wrong, look: found.length - wrong };
  };

/** The languages that are taken where nothing was chosen: that with most tables, and another one. */
export async function usualTongues(
  gameId: number,
  modId: number,
  asked: Partial<DeskTongues>,
): Promise<{ tongues: GameTongue[]; chosen: DeskTongues }> {
  const tongues = await gameTongues(gameId, modId);
  const real = tongues.map(({ tongue }) => tongue);
  if (real.length === 0)
    throw new UserError(
      404,
      'No tables of texts are known in this game. They are told by a language in their paths, by their endings (.lines, .csv, .strings, .properties, .lang), or by a format script with a section for lines.',
    );
  const source =
    asked.source !== undefined && real.includes(asked.source)
      ? asked.source
      : real.includes('en')
        ? 'en'
        : real[0]!;
  const target =
    asked.target !== undefined && real.includes(asked.target)
      ? asked.target
      : (real.find((one) => one !== source && one !== '') ?? source);
  const others = (asked.others ?? []).filter((one) => real.includes(one) && one !== source && one !== target);
  return { tongues, chosen: { source, target, others } };
}

export async function deskOverview(desk: Desk, tongues: readonly GameTongue[]): Promise<DeskOverview> {
  const checked = await checkSoon(desk);
  const facts = factsOf(desk);
  const all = desk.lines.map((_, number) => facts(number));
  const counts = { empty: 0, changed: 0, failing: 0, look: 0, done: 0, reviewed: 0 };
  for (const { line, work, wrong, look } of all) {
    if (textNow(line, work) === '') counts.empty++;
    if (work && work.text !== (line.was ?? '')) counts.changed++;
    if (wrong > 0) counts.failing++;
    if (look > 0) counts.look++;
    if (work?.state === 'done' || work?.state === 'reviewed') counts.done++;
    if (work?.state === 'reviewed') counts.reviewed++;
  }
  return {
    ...{ tongues, counts, chosen: desk.tongues, checked, lines: desk.lines.length, problems: desk.problems },
    byTable: progressBy(all, ({ place }) => place).map((one) => ({ ...one, path: pathOf(desk, one.name) })),
    bySpeaker: progressBy(
      all.filter(({ line }) => line.speaker !== ''),
      ({ speaker }) => speaker,
    ),
    history: await deskHistory(desk.modId, desk.tongues.target),
    ...{ terms: desk.terms, version: desk.version },
  };
}

const pathOf = (desk: Desk, place: string): string => {
  const table = desk.tables.get(place);
  return (table?.target ?? table?.source)?.file.record.path ?? place;
};

/** Numbers of the lines that a query asks for. */
export async function linesFor(desk: Desk, query: LineQuery): Promise<number[]> {
  if (query.shown === 'failing' || query.shown === 'to look at') await checkAll(desk);
  return pickLines(desk.lines.length, factsOf(desk), query);
}

export async function deskRows(desk: Desk, query: LineQuery, from: number, count: number): Promise<DeskRows> {
  const found = await linesFor(desk, query);
  return {
    total: found.length,
    rows: found.slice(from, from + count).map((number) => rowOf(desk, number)),
    version: desk.version,
  };
}

/** What is found in a line as it is now; it is looked at if it was not yet. */
const foundIn = (desk: Desk, number: number): readonly LineFinding[] =>
  (desk.findings[number] ??= findingsOf(desk, number, textNow(desk.lines[number]!, desk.work.get(number))));

function rowOf(desk: Desk, number: number): DeskRow {
  const found = foundIn(desk, number);
  const { line, work, wrong, look } = factsOf(desk)(number);
  const { place, key, nth, speaker } = line;
  return {
    ...{ number, place, key, nth, speaker, wrong, look },
    source: line.source ?? null,
    text: textNow(line, work),
    was: line.was ?? null,
    others: line.others.map((one) => one ?? null),
    state: work?.state ?? null,
    by: work?.by ?? '',
    limit: line.limit ?? null,
    width: line.width ?? null,
    found: found[0]?.what ?? null,
    writer: writerOf(desk.modId, desk.tongues.target, line),
  };
}

/** Everything that is known of one line. */
export interface DeskLineView {
  readonly row: DeskRow;
  readonly note: string;
  readonly findings: readonly LineFinding[];
  readonly offers: readonly Remembered[];
  readonly terms: readonly { readonly source: string; readonly target: string }[];
  /** Lines with the same source text elsewhere. */
  readonly alike: readonly DeskRow[];
  readonly before: readonly DeskRow[];
  readonly after: readonly DeskRow[];
  readonly earlier: readonly EarlierText[];
  readonly comments: readonly {
    readonly id: number;
    readonly text: string;
    readonly by: string;
    readonly at: string;
  }[];
  readonly file: EntryRecord | null;
  /** Sounds in which it is said. */
  readonly voices: readonly TiedEntry[];
  /** Pictures that belong to it by its key, or to who says it. */
  readonly pictures: readonly TiedEntry[];
  /** Keys of forms that the language has and the table lacks. */
  readonly lacks: readonly string[];
}

const AROUND = 2;
const MOST_ALIKE = 20;

export async function deskLine(desk: Desk, id: LineId): Promise<DeskLineView> {
  const number = desk.byId.get(id);
  if (number === undefined) throw new UserError(404, `There is no line ${id.key} here.`);
  const line = desk.lines[number]!;
  const { place, key, nth } = line;
  const row = rowOf(desk, number);
  const source = line.source ?? '';
  const table = desk.tables.get(place)!;
  const near = (from: number, to: number): DeskRow[] =>
    Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i)
      .filter((other) => desk.lines[other]?.place === place)
      .map((other) => rowOf(desk, other));
  const alike: DeskRow[] = [];
  for (let other = 0; other < desk.lines.length && alike.length < MOST_ALIKE; other++)
    if (other !== number && source !== '' && desk.lines[other]!.source === source)
      alike.push(rowOf(desk, other));
  const low = source.toLocaleLowerCase();
  const notes = await DeskNoteRow.findAll({
    where: { modId: desk.modId, place, key, nth },
    order: [['id', 'ASC']],
  });
  return {
    ...{ row, alike },
    note: line.note,
    findings: foundIn(desk, number),
    offers: desk.memory.offers(source).filter(({ source: of, text }) => of !== source || text !== row.text),
    terms: desk.terms.filter((term) => low.includes(term.source.toLocaleLowerCase())),
    before: near(Math.max(0, number - AROUND), number),
    after: near(number + 1, Math.min(desk.lines.length, number + 1 + AROUND)),
    earlier: await earlierTexts(desk.modId, desk.tongues.target, line),
    comments: notes.map((one) => ({
      id: one.id,
      text: one.text,
      by: one.byWhom,
      at: one.createdAt.toISOString(),
    })),
    file: (table.target ?? table.source)?.file.record ?? null,
    voices: await voicesOf(desk.gameId, key, [desk.tongues.source, desk.tongues.target]),
    pictures: await picturesOf(desk.gameId, key, line.speaker, [desk.tongues.source, desk.tongues.target]),
    lacks: desk.lacking.get(idOf(line)) ?? [],
  };
}

/** Lines that were done up to a day, for a chart. */
export interface DoneByDay {
  readonly day: string;
  readonly lines: number;
}

export async function doneByDay(modId: number, tongue: string): Promise<DoneByDay[]> {
  const steps = await DeskStepRow.findAll({
    where: { modId, tongue, undone: false },
    attributes: ['createdAt', 'lines'],
    order: [['id', 'ASC']],
    limit: 20_000,
  });
  const days = new Map<string, number>();
  for (const { createdAt, lines } of steps) {
    const day = createdAt.toISOString().slice(0, 10);
    days.set(day, (days.get(day) ?? 0) + (lines as unknown[]).length);
  }
  return [...days].map(([day, lines]) => ({ day, lines }));
}

/** What would be found in a text of a line. */
export function findingsFor(desk: Desk, id: LineId, text: string): LineFinding[] {
  const number = desk.byId.get(id);
  if (number === undefined) throw new UserError(404, `There is no line ${id.key} here.`);
  return findingsOf(desk, number, text);
}
