import pLimit, { type LimitFunction } from 'p-limit';
import { Op, Transaction } from 'sequelize';
import { DeskStepRow, dropDeskTexts, keepDeskTexts, DeskTermRow, DeskTextRow, ModRow, models } from '@/db';
import { idOf, textNow, type LineId, type LineState, type LineWork } from '@/media/text/core/desk';
import type { LineFinding } from '@/media/text/core/lines';
import { UserError } from '@/platform/user-error';
import { notify } from './live';
import { findingsOf, openDesks, termsOf, workOf, type Desk } from './desk';

/** What somebody wants of a line. */
export interface LineEdit extends LineId {
  /** Undefined where only its state changes. */
  readonly text?: string | undefined;
  readonly state?: LineState | undefined;
  /** The text that stood there when it was edited, so that nobody's work is written over unseen; undefined to have one's way. */
  readonly base?: string | undefined;
  /** Put back to what the game has. */
  readonly isBack?: boolean | undefined;
}

/** A line that was changed by somebody else meanwhile. */
export interface LineConflict extends LineId {
  readonly base: string;
  readonly now: string;
  readonly by: string;
  readonly text: string;
}

export interface LinesEdited {
  readonly changed: number;
  readonly conflicts: readonly LineConflict[];
  readonly findings: readonly LineFinding[];
}

interface StepLine extends LineId {
  readonly was: Pick<LineWork, 'text' | 'state'> | null;
  readonly now: Pick<LineWork, 'text' | 'state'> | null;
}

/** So many steps of a language can be undone; older ones are forgotten. */
const MOST_STEPS = 500;
/** Longer than this no text of a game is. */
export const MOST_TEXT_LENGTH = 100_000;

/** Whoever changes lines of a mod waits for whoever is at it, so that each sees what the other has written. */
const turns = new Map<number, LimitFunction>();
function inTurn<T>(modId: number, work: () => Promise<T>): Promise<T> {
  let turn = turns.get(modId);
  if (!turn) turns.set(modId, (turn = pLimit(1)));
  return turn(work);
}

/** A sign that the database does not keep, or keeps as another one. */
const UNKEPT = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** Does something to lines as one step, so that it can be undone; what somebody else changed meanwhile is told and left. */
export const editLines = (
  desk: Desk,
  edits: readonly LineEdit[],
  what: string,
  by: string,
): Promise<LinesEdited> => inTurn(desk.modId, () => editNow(desk, edits, what, by));

async function editNow(desk: Desk, all: readonly LineEdit[], what: string, by: string): Promise<LinesEdited> {
  // Of what is said twice of one line the last counts.
  const edits = [...new Map(all.map((edit) => [idOf(edit), edit])).values()];
  const unkept = edits.find(({ text }) => text !== undefined && UNKEPT.test(text));
  if (unkept)
    throw new UserError(
      422,
      `The text of ${unkept.key} has a zero or half of a pair in it, which stand for no sign. Nothing was changed. Take them out.`,
    );
  const { modId, tongues } = desk;
  const tongue = tongues.target;
  const conflicts: LineConflict[] = [];
  const lines: StepLine[] = [];
  for (const edit of edits) {
    const number = desk.byId.get(edit);
    if (number === undefined)
      throw new UserError(404, `${edit.place} has no line ${edit.key}. Load the desk again.`);
    const line = desk.lines[number]!;
    const before = desk.work.get(number);
    const now = textNow(line, before);
    const { place, key, nth } = line;
    if (edit.base !== undefined && edit.base !== now) {
      conflicts.push({ place, key, nth, base: edit.base, now, by: before?.by ?? '', text: edit.text ?? now });
      continue;
    }
    const text = edit.isBack ? undefined : (edit.text ?? now);
    const next =
      text === undefined
        ? null
        : { text, state: edit.state ?? (text === now ? (before?.state ?? 'draft') : 'draft') };
    // What is as the game has it and was never said to be done is no work.
    const isNone = next === null || (!before && next.text === (line.was ?? '') && edit.state === undefined);
    const after = isNone ? null : next;
    if (after?.text === before?.text && after?.state === before?.state) continue;
    lines.push({
      place,
      key,
      nth,
      was: before ? { text: before.text, state: before.state } : null,
      now: after,
    });
  }
  if (lines.length > 0) {
    await keepStep(modId, tongue, what, by, lines);
    await follow(modId, tongue, lines, by);
  }
  const one = edits.length === 1 ? desk.byId.get(edits[0]!) : undefined;
  return {
    ...{ changed: lines.length, conflicts },
    findings: one === undefined ? [] : (desk.findings[one] ?? []),
  };
}

/** Writes lines and the step that they are, in one transaction. */
async function keepStep(
  modId: number,
  tongue: string,
  what: string,
  by: string,
  lines: readonly StepLine[],
): Promise<void> {
  await models().transaction(async () => {
    await ModRow.findByPk(modId, { attributes: ['id'], lock: Transaction.LOCK.UPDATE });
    await writeLines(modId, tongue, lines, by);
    await DeskStepRow.destroy({ where: { modId, tongue, undone: true } });
    const step = await DeskStepRow.create({ modId, tongue, what, byWhom: by, lines });
    const old = await DeskStepRow.findOne({
      where: { modId, tongue },
      order: [['id', 'DESC']],
      offset: MOST_STEPS,
      attributes: ['id'],
    });
    if (old)
      await DeskStepRow.destroy({
        where: { modId, tongue, id: { [Op.lte]: Math.min(old.id, step.id - 1) } },
      });
  });
}

/** Rows are written in portions of this. */
const ROWS_AT_ONCE = 10_000;

async function writeLines(
  modId: number,
  tongue: string,
  lines: readonly StepLine[],
  by: string,
): Promise<void> {
  for (let at = 0; at < lines.length; at += ROWS_AT_ONCE) {
    const portion = lines.slice(at, at + ROWS_AT_ONCE);
    const kept = portion.flatMap(({ place, key, nth, now }) => (now ? [{ place, key, nth, ...now }] : []));
    const gone = portion.filter(({ now }) => now === null);
    if (gone.length > 0) await dropDeskTexts(modId, tongue, gone);
    if (kept.length > 0) await keepDeskTexts(modId, tongue, kept, by);
  }
}

/** Has all open desks of a language know what was written. */
async function follow(modId: number, tongue: string, lines: readonly StepLine[], by: string): Promise<void> {
  const at = new Date().toISOString();
  for (const desk of await openDesks(modId, tongue)) {
    for (const line of lines) {
      const number = desk.byId.get(line);
      if (number === undefined) continue;
      if (line.now) desk.work.set(number, { ...line.now, by, at });
      else desk.work.delete(number);
      const text = textNow(desk.lines[number]!, desk.work.get(number));
      desk.findings[number] = findingsOf(desk, number, text);
      if (text !== '') desk.memory.add(desk.lines[number]!.source ?? '', text);
    }
    desk.version++;
  }
  notify(modId);
}

export interface DeskHistory {
  readonly undo: string | null;
  readonly redo: string | null;
}

/** Takes the last step of a language back, or does the last one that was taken back again. */
export const stepDesk = (
  modId: number,
  tongue: string,
  direction: 'undo' | 'redo',
  by: string,
): Promise<{ what: string; left: number }> => inTurn(modId, () => stepNow(modId, tongue, direction, by));

async function stepNow(
  modId: number,
  tongue: string,
  direction: 'undo' | 'redo',
  by: string,
): Promise<{ what: string; left: number }> {
  const isUndo = direction === 'undo';
  const step = await DeskStepRow.findOne({
    where: { modId, tongue, undone: !isUndo },
    order: [['id', isUndo ? 'DESC' : 'ASC']],
  });
  if (!step) throw new UserError(409, isUndo ? 'There is nothing to undo.' : 'There is nothing to do again.');
  const all = step.lines as StepLine[];
  const [desk] = await openDesks(modId, tongue);
  const rows = desk ? undefined : await DeskTextRow.findAll({ where: { modId, tongue } });
  const byId = rows && new Map(rows.map((row) => [idOf(row), workOf(row)]));
  const workNow = (line: LineId): LineWork | undefined => {
    if (byId) return byId.get(idOf(line));
    const number = desk!.byId.get(line);
    return number === undefined ? undefined : desk!.work.get(number);
  };
  // A line that somebody changed since is left.
  const lines = all.flatMap((line): StepLine[] => {
    const [from, to] = isUndo ? [line.now, line.was] : [line.was, line.now];
    const now = workNow(line);
    return now?.text === from?.text ? [{ ...line, was: from, now: to }] : [];
  });
  await models().transaction(async () => {
    await ModRow.findByPk(modId, { attributes: ['id'], lock: Transaction.LOCK.UPDATE });
    await writeLines(modId, tongue, lines, by);
    await step.update({ undone: isUndo });
  });
  await follow(modId, tongue, lines, by);
  return { what: step.what, left: all.length - lines.length };
}

export async function deskHistory(modId: number, tongue: string): Promise<DeskHistory> {
  const [undo, redo] = await Promise.all([
    DeskStepRow.findOne({
      where: { modId, tongue, undone: false },
      order: [['id', 'DESC']],
      attributes: ['what'],
    }),
    DeskStepRow.findOne({
      where: { modId, tongue, undone: true },
      order: [['id', 'ASC']],
      attributes: ['what'],
    }),
  ]);
  return { undo: undo?.what ?? null, redo: redo?.what ?? null };
}

/** What a line was, the latest first. */
export interface EarlierText {
  readonly text: string;
  readonly state: LineState | null;
  readonly by: string;
  readonly at: string;
  readonly what: string;
}

const MOST_EARLIER = 30;

export async function earlierTexts(modId: number, tongue: string, id: LineId): Promise<EarlierText[]> {
  const { place, key, nth } = id;
  const steps = await DeskStepRow.findAll({
    where: { modId, tongue, undone: false, lines: { [Op.contains]: [{ place, key, nth }] } as never },
    order: [['id', 'DESC']],
    limit: MOST_EARLIER,
  });
  return steps.flatMap((step) => {
    const own = (step.lines as StepLine[]).find((line) => idOf(line) === idOf(id));
    if (!own) return [];
    return [
      {
        ...{ text: own.now?.text ?? '', state: own.now?.state ?? null, by: step.byWhom, what: step.what },
        at: step.createdAt.toISOString(),
      },
    ];
  });
}

/** Has a word be said in one way, or in any where nothing is given. */
export async function keepTerm(modId: number, tongue: string, source: string, target: string): Promise<void> {
  if (target === '') await DeskTermRow.destroy({ where: { modId, tongue, source } });
  else
    await DeskTermRow.upsert(
      { modId, tongue, source, target },
      {
        conflictFields: ['mod_id', 'tongue', 'source'] as never,
      },
    );
  const terms = await termsOf(modId, tongue);
  for (const desk of await openDesks(modId, tongue)) {
    desk.terms = terms;
    desk.findings.fill(undefined);
    desk.version++;
  }
  notify(modId);
}
