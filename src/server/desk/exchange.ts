import { tongueName } from '@/core/catalogue';
import { FormatError } from '@/core/bytes';
import {
  broughtBack,
  idOf,
  textNow,
  type BroughtBack,
  type LineQuery,
  type TextTaken,
} from '@/media/text/core/desk';
import {
  EXCHANGE_FILES,
  readLines,
  writeLines,
  type ExchangeForm,
  type ExchangeTongues,
  type GivenLine,
} from '@/media/text/node/exchange';
import { DeskTongueRow } from '@/db';
import { UserError } from '@/platform/user-error';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { readBlob } from '../storage/storage';
import type { Desk } from './desk';
import { linesFor } from './desk-view';
import { editLines, MOST_TEXT_LENGTH, type LinesEdited } from './edit-lines';

async function tonguesOf({ modId, tongues }: Desk): Promise<ExchangeTongues> {
  const brought = await DeskTongueRow.findAll({ where: { modId }, raw: true });
  const named = (code: string) => ({
    code,
    name: brought.find(({ tongue }) => tongue === code)?.name ?? (code === '' ? 'Text' : tongueName(code)),
  });
  return { source: named(tongues.source), target: named(tongues.target) };
}

/** The lines that a query asks for, as a file for whoever translates them elsewhere. */
export async function takeLines(
  desk: Desk,
  form: ExchangeForm,
  query: LineQuery,
): Promise<{ bytes: Uint8Array; name: string; type: string }> {
  const numbers = await linesFor(desk, query);
  const lines = numbers.map((number): GivenLine => {
    const line = desk.lines[number]!;
    const { place, key, nth, source, note, limit, speaker } = line;
    return {
      ...{ place, key, nth, source: source ?? '', target: textNow(line, desk.work.get(number)) },
      note: [speaker && `${speaker} says it`, note].filter((one) => one !== '').join('. '),
      limit: limit ? `${limit.most} ${limit.unit}` : '',
    };
  });
  const { ending, type } = EXCHANGE_FILES[form];
  const { source, target } = desk.tongues;
  return {
    bytes: await written(form, lines, await tonguesOf(desk)),
    name: `lines-${source || 'all'}-${target || 'all'}.${ending}`,
    type,
  };
}

/** A file is written and read beside the server: a hundred thousand lines take seconds. */
const written = (
  form: ExchangeForm,
  lines: readonly GivenLine[],
  tongues: ExchangeTongues,
): Promise<Uint8Array> =>
  hasLookThread() ? lookBeside('linesWritten', { form, lines, tongues }) : writeLines(form, lines, tongues);

/** What a file would change, told before anything is. */
export interface Brought extends Omit<BroughtBack, 'changed' | 'unknown'> {
  readonly form: ExchangeForm;
  readonly lines: number;
  readonly changed: number;
  readonly unknown: number;
  /** The first of each. */
  readonly shown: readonly TextTaken[];
  readonly firstUnknown: readonly string[];
  readonly warnings: readonly string[];
}

const MOST_SHOWN = 200;
/** More of the known lines than this share with another source make it likely that the columns are shifted. */
const MOST_OTHER = 0.5;

async function readBack(
  desk: Desk,
  blob: string,
  name: string,
): Promise<{ found: BroughtBack; form: ExchangeForm; lines: number; warnings: string[] }> {
  let read: Awaited<ReturnType<typeof readLines>>;
  try {
    const given = readBlob(blob);
    read = hasLookThread()
      ? await lookBeside('linesRead', { given, givenName: name })
      : await readLines(given, name);
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    throw new UserError(422, `${name} cannot be taken: ${error.message}`);
  }
  const known = desk.lines.map((line, number) => ({
    ...{ place: line.place, key: line.key, nth: line.nth, source: line.source },
    text: textNow(line, desk.work.get(number)),
  }));
  const found = broughtBack(read.lines, known);
  const matched = read.lines.length - found.twice - found.unknown.length;
  if (matched === 0)
    throw new UserError(
      422,
      `None of the ${read.lines.length} lines of ${name} is known here. It may be for another game, or its keys were lost.`,
    );
  if (found.otherSource > matched * MOST_OTHER && matched > 3)
    throw new UserError(
      422,
      `${found.otherSource} of ${matched} lines of ${name} have another source text than here. Its columns may be shifted, or it is for another language; nothing was changed.`,
    );
  const warnings = [...read.warnings];
  if (found.twice > 0)
    warnings.push(`${found.twice} lines stand in the file more than once; the last of each counts.`);
  if (found.otherSource > 0)
    warnings.push(
      `${found.otherSource} lines have another source text in the file: they may have been translated from an older one.`,
    );
  return { found, form: read.form, lines: read.lines.length, warnings };
}

export async function lookAtBrought(desk: Desk, blob: string, name: string): Promise<Brought> {
  const { found, form, lines, warnings } = await readBack(desk, blob, name);
  const { changed, unknown, ...rest } = found;
  return {
    ...{ ...rest, form, lines, warnings, changed: changed.length, unknown: unknown.length },
    conflicts: rest.conflicts.slice(0, MOST_SHOWN),
    shown: changed.slice(0, MOST_SHOWN),
    firstUnknown: unknown.slice(0, 20),
  };
}

/** Takes what a file changes as one step; of lines that were changed here as well only those that are said. */
export async function takeBrought(
  desk: Desk,
  blob: string,
  name: string,
  theirs: readonly string[],
  by: string,
): Promise<LinesEdited> {
  const { found } = await readBack(desk, blob, name);
  const wanted = new Set(theirs);
  const taken = [...found.changed, ...found.conflicts.filter((one) => wanted.has(idOf(one)))];
  const long = taken.find(({ text }) => text.length > MOST_TEXT_LENGTH);
  if (long)
    throw new UserError(
      422,
      `The text of ${long.key} has ${long.text.length} signs, more than any game shows.`,
    );
  return editLines(
    desk,
    taken.map(({ place, key, nth, now, text }) => ({ place, key, nth, text, base: now })),
    `taking ${taken.length} lines of ${name}`,
    by,
  );
}
