import { formLine, idOf, textNow, type DeskLine, type LineId } from '@/media/text/core/desk';
import { UserError } from '@/platform/user-error';
import { lackingIn, openDesks, type Desk } from './desk';
import { editLines, type LinesEdited } from './edit-lines';

/** Gives a text the forms that the language that is worked on has and its table lacks: each a line of its own, which begins with what is said for other counts. */
export async function addForms(desk: Desk, id: LineId, by: string): Promise<LinesEdited> {
  const number = desk.byId.get(id);
  const line = number === undefined ? undefined : desk.lines[number];
  if (!line) throw new UserError(404, `There is no line ${id.key} here.`);
  const lacks = desk.lacking.get(idOf(line)) ?? [];
  if (lacks.length === 0) throw new UserError(409, `${line.key} has all forms of the language.`);
  const { place } = line;
  for (const open of await openDesks(desk.modId, desk.tongues.target)) {
    for (const key of lacks) {
      const made = { place, key, nth: 0 };
      if (!open.byId.has(made) && open.byId.has(line)) addLine(open, formLine(line, made));
    }
    open.lacking = lackingIn(open.lines, open.tongues.target);
    const own = open.byId.get(line);
    if (own !== undefined) open.findings[own] = undefined;
  }
  const text = textNow(line, desk.work.get(number!));
  const edits = lacks.map((key) => ({ place, key, nth: 0, text, state: 'draft' as const }));
  return editLines(desk, edits, `adding forms of ${line.key}`, by);
}

function addLine(desk: Desk, line: DeskLine): void {
  desk.byId.set(line, desk.lines.push(line) - 1);
  desk.findings.push(undefined);
}
