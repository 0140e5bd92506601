import { FormatError } from '@/core/bytes';
import { isList, sameCell, type Cell, type CellFinding } from '@/media/table/core';
import { JUMP, readSteps, stepAt, withStepNumbers, type Vocabulary } from '@/media/table/core/steps';
import { UserError } from '@/platform/user-error';
import { modRow } from '../mods/mods';
import { layValues, type CellAnswer, type LaidValue } from './edit-cell';
import { openReading } from './open-reading';
import { rowTitle, type GameTable, type Reading } from './reading';
import { maySteps } from './steps-told';
import { tableAt } from './reading-view';
import { isTable } from './words';

/** A step whose numbers somebody wants to be others. */
export interface StepAsked {
  readonly table: string;
  readonly row: number;
  /** The field that has the steps, and where the step begins. */
  readonly field: string;
  readonly at: number;
  /** As they stood when it was asked for, and as they are wanted. */
  readonly was: readonly string[];
  readonly values: readonly string[];
}

/** What is found of the numbers of a step that begins at a place of a cell. */
export function stepFindings(
  { tables, keys }: Reading,
  cell: Cell | undefined,
  vocabulary: Vocabulary,
  at: number,
  values: readonly number[],
): CellFinding[] {
  const steps = readSteps(cell, vocabulary);
  const end = cell instanceof Uint8Array ? cell.length : steps.length;
  const { with: numbers } = stepAt(cell, vocabulary, at)!.word!;
  return numbers.flatMap(({ name, means }, i): CellFinding[] => {
    const value = values[i]!;
    const wrong = (what: string, why: string): CellFinding[] => [{ state: 'wrong', what, why }];
    if (means === undefined) return [];
    if (means === JUMP)
      return steps.some((step) => step.at === value) || value === end
        ? []
        : wrong(`${name}: no step begins at ${value}`, 'The scene would go on in the middle of a step');
    const key = keys.find((one) => isTable(tables[one.table]!.id, means));
    return key?.rows.has(value)
      ? []
      : wrong(
          `${name}: ${value} is no row of ${key ? tables[key.table]!.id : means}`,
          'It would lead nowhere',
        );
  });
}

/** Gives the numbers of a step other values, as one step of the mod that can be undone. */
export async function editStep(
  gameId: number,
  modId: number,
  { table, row, field, at, was, values: texts }: StepAsked,
  isDespite: boolean,
): Promise<CellAnswer> {
  await modRow(gameId, modId);
  const reading = await openReading(gameId, modId);
  const { number, of } = tableAt(reading, table);
  const vocabulary = of.words.find((one) => one.field === field);
  const before = of.table.columns.find(({ name }) => name === field)?.cells[row];
  const step = vocabulary && stepAt(before, vocabulary, at);
  if (!vocabulary || !step) throw new UserError(404, `No step of ${field} begins at ${at}.`);
  refuseForm(of, field);
  const title = `${step.word!.called} at ${at} of ${rowTitle(reading, number, row)}`;
  if (step.values.slice(0, step.word!.with.length).join() !== was.join())
    throw new UserError(409, `${title} is another step by now. Look at it, and say again what it should be.`);
  const values = asNumbers(texts);
  if (!Array.isArray(values)) return refusedAs(values.finding);
  const value = written(() => ({ cell: withStepNumbers(before, vocabulary, at, values) }));
  if (typeof value === 'string') return refusedAs(noRoom(value));
  const findings = stepFindings(reading, value.cell, vocabulary, at, values);
  if (sameCell(before, value.cell) || (findings.length > 0 && !isDespite))
    return { findings, isWritten: false, fit: null };
  const what = `${title}: ${was.join(', ')} to ${values.join(', ')}`;
  // Of steps in lists only the numbers are written, so that all else is spelled as it was.
  const laid: LaidValue[] = isList(before)
    ? values.flatMap((one, i) =>
        one === step.values[i] ? [] : [{ within: [at, i + 1], before: step.values[i], value: one }],
      )
    : [{ within: [], before, value: value.cell }];
  const fit = await layValues(gameId, modId, of, { row, column: field }, laid, what);
  return { findings, isWritten: true, fit };
}

/** What a step comes to; why it cannot be, where it cannot. */
export function written<Made>(make: () => Made): Made | string {
  try {
    return make();
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return error.message;
  }
}

export const noRoom = (what: string): CellFinding => ({
  ...{ state: 'wrong', what, why: 'It cannot be written', isRefused: true },
});

/** Numbers as they are written; what is found where one is none. */
export function asNumbers(texts: readonly string[]): number[] | { readonly finding: CellFinding } {
  const values = texts.map((text) => (/^\s*-?\d{1,10}\s*$/.test(text) ? Number(text) : Number.NaN));
  const notNumber = texts[values.findIndex((value) => Number.isNaN(value))];
  return notNumber === undefined
    ? values
    : {
        finding: {
          state: 'wrong',
          what: `${notNumber || 'nothing'} is no number`,
          why: 'Steps are numbers',
          isRefused: true,
        },
      };
}

/** Nothing is written, for a reason. */
export const refusedAs = (finding: CellFinding): CellAnswer => ({
  ...{ findings: [finding], isWritten: false, fit: null },
});

export function refuseForm(of: GameTable, field: string): void {
  if (!maySteps(of, field))
    throw new UserError(409, `Steps of ${of.id} are not changed here: its form is ${of.form}.`);
}
