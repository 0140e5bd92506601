import { isList, type Cell, type CellFinding } from '@/media/table/core';
import { readSteps, resizedSteps, type StepChange, type Vocabulary } from '@/media/table/core/steps';
import { UserError } from '@/platform/user-error';
import { modRow } from '../mods/mods';
import { layValues, layWork, type CellAnswer } from './edit-cell';
import { asNumbers, noRoom, refusedAs, refuseForm, stepFindings, written } from './edit-step';
import { openReading } from './open-reading';
import { rowTitle } from './reading';
import { tableAt } from './reading-view';
import { stampOfSteps } from './steps-told';

/** A step more, or one less, among those of a row. */
export interface StepsAsked {
  readonly table: string;
  readonly row: number;
  /** The field that has the steps, and where the step begins, or will begin; places count as steps stand now. */
  readonly field: string;
  readonly at: number;
  /** What the steps were told apart by when it was asked for. */
  readonly stamp: string;
  /** The code and the numbers of a step that comes; one is taken out where nothing is said. */
  readonly add?: { readonly code: number; readonly values: readonly string[] } | undefined;
}

/** Puts a step among others, or takes one out, as one step of the mod that can be undone; where others go on follows. */
export async function resizeSteps(
  gameId: number,
  modId: number,
  { table, row, field, at, stamp, add }: StepsAsked,
  isDespite: boolean,
): Promise<CellAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, table);
  const vocabulary = of.words.find((one) => one.field === field);
  const before = of.table.columns.find(({ name }) => name === field)?.cells[row];
  if (!vocabulary || before === undefined)
    throw new UserError(404, `Row ${row + 1} of ${table} has no ${field}.`);
  refuseForm(of, field);
  const title = rowTitle(reading, number, row);
  if (stampOfSteps(before) !== stamp)
    throw new UserError(409, `The steps of ${title} are others by now. Look at them, and say it again.`);
  const values = asNumbers(add?.values ?? []);
  if (!Array.isArray(values)) return refusedAs(values.finding);
  const change: StepChange = add ? { does: 'add', at, code: add.code, values } : { does: 'remove', at };
  const made = written(() => resizedSteps(before, vocabulary, change));
  if (typeof made === 'string') return refusedAs(noRoom(made));
  const findings: CellFinding[] = add
    ? stepFindings(reading, made.cell, vocabulary, at, made.values)
    : ledFindings(made.led);
  if (findings.length > 0 && !isDespite) return { findings, isWritten: false, fit: null };
  const what = `${said(before, vocabulary, change)} of ${title}`;
  if (!isList(before)) {
    const laid = [{ within: [], before, value: made.cell }];
    return {
      findings,
      isWritten: true,
      fit: await layValues(gameId, modId, of, { row, column: field }, laid, what),
    };
  }
  // Of steps in lists only one item comes or goes, and numbers are written, so that all else is spelled as it was.
  const step = Math.min(at, before.length);
  const fit = await layWork(gameId, modId, of, row, what, (rowInFile) => {
    const place = { table: of.table.name, row: rowInFile, column: field };
    return {
      ...{ sort: 'item', before },
      edit: {
        ...{ ...place, within: [], at: step },
        ...(add ? { does: 'add', item: { numbers: [add.code, ...made.values] } } : { does: 'remove' }),
      },
      then: made.moved.map((moved) => ({
        ...{ ...place, within: [moved.step, moved.number + 1], value: moved.value },
      })),
    };
  });
  return { findings, isWritten: true, fit };
}

const ledFindings = (led: number): CellFinding[] =>
  led === 0
    ? []
    : [
        {
          state: 'look',
          what: `${led} ${led === 1 ? 'step goes' : 'steps go'} on at it`,
          why: 'They would go on at the one behind it',
        },
      ];

/** What is done, in words. */
function said(before: Cell, vocabulary: Vocabulary, change: StepChange): string {
  if (change.does === 'add')
    return `${vocabulary.words.get(change.code)!.called} put at ${change.at} of ${vocabulary.field}`;
  const step = readSteps(before, vocabulary).find(({ at }) => at === change.at);
  return `${step?.word?.called ?? 'a step'} at ${change.at} taken out of ${vocabulary.field}`;
}
