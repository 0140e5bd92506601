import {
  idOf,
  replacedIn,
  textNow,
  type LineQuery,
  type LineState,
  type Replacing,
} from '@/media/text/core/desk';
import { UserError } from '@/platform/user-error';
import type { Desk } from './desk';
import { linesFor } from './desk-view';
import { editLines, type LineEdit, type LinesEdited } from './edit-lines';

export interface WouldReplace {
  readonly place: string;
  readonly key: string;
  readonly nth: number;
  readonly now: string;
  readonly text: string;
}

const MOST_SHOWN = 300;

async function replacing(desk: Desk, query: LineQuery, how: Replacing): Promise<WouldReplace[]> {
  if (how.find === '') throw new UserError(422, 'Say what is to be found.');
  return (await linesFor(desk, query)).flatMap((number) => {
    const line = desk.lines[number]!;
    const now = textNow(line, desk.work.get(number));
    const text = replacedIn(now, how);
    const { place, key, nth } = line;
    return text === undefined ? [] : [{ place, key, nth, now, text }];
  });
}

/** What replacing would do to the lines that a query asks for. */
export async function lookAtReplacing(
  desk: Desk,
  query: LineQuery,
  how: Replacing,
): Promise<{ count: number; shown: WouldReplace[] }> {
  const found = await replacing(desk, query, how);
  return { count: found.length, shown: found.slice(0, MOST_SHOWN) };
}

/** Replaces in the lines that a query asks for, but those that are left out, as one step. */
export async function replaceLines(
  desk: Desk,
  query: LineQuery,
  how: Replacing,
  without: ReadonlySet<string>,
  by: string,
): Promise<LinesEdited> {
  const found = (await replacing(desk, query, how)).filter(
    ({ place, key, nth }) => !without.has(idOf({ place, key, nth })),
  );
  return editLines(
    desk,
    found.map(({ place, key, nth, now, text }): LineEdit => ({ place, key, nth, text, base: now })),
    `replacing ${how.find} by ${how.by} in ${found.length} lines`,
    by,
  );
}

/** Does the same to all lines that a query asks for: says how far they are, fills empty ones with the source, or puts them back. */
export async function doToLines(
  desk: Desk,
  query: LineQuery,
  what: {
    readonly state?: LineState | undefined;
    readonly fill?: boolean | undefined;
    readonly isBack?: boolean | undefined;
  },
  by: string,
): Promise<LinesEdited> {
  const edits = (await linesFor(desk, query)).flatMap((number): LineEdit[] => {
    const { place, key, nth, source } = desk.lines[number]!;
    const now = textNow(desk.lines[number]!, desk.work.get(number));
    if (what.isBack) return [{ place, key, nth, isBack: true }];
    if (what.fill) return now === '' && source ? [{ place, key, nth, text: source }] : [];
    // Nothing is done where nothing stands.
    return now === '' ? [] : [{ place, key, nth, state: what.state }];
  });
  const said = what.isBack ? 'putting back' : what.fill ? 'filling' : `saying ${what.state} of`;
  return editLines(desk, edits, `${said} ${edits.length} lines`, by);
}
