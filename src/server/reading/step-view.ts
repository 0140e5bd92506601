import { isList, type Cell } from '@/media/table/core';
import { JUMP, readSteps } from '@/media/table/core/steps';
import type { GameTable, Reading } from './reading';
import { maySteps, stampOfSteps } from './steps-told';
import type { RowRef } from './reading-view';
import { isTable } from './words';

/** A part of a sentence: a text, a row that is meant, or a step to go on at. */
export type SaidPart =
  | { readonly text: string }
  | { readonly to: RowRef }
  | { readonly jump: number }
  /** A number that should mean a row, and no row has. */
  | { readonly lost: string };

export interface StepView {
  readonly at: number;
  readonly code: number;
  readonly says: readonly SaidPart[];
  readonly problem: string | null;
  /** What is done, and the numbers that say with what; none where it cannot be read whole. */
  readonly called: string;
  readonly numbers: readonly (StepNumberView & { readonly value: string })[];
}

/** A number of a step, by its word. */
export interface StepNumberView {
  readonly name: string;
  readonly means: string | null;
}

export interface StepsView {
  readonly field: string;
  readonly steps: readonly StepView[];
  /** Where steps end. */
  readonly end: number;
  /** Whether steps may be changed, come and go here. */
  readonly isWritable: boolean;
  /** What they are told apart by when one comes or goes. */
  readonly stamp: string;
  /** What a step may do. */
  readonly words: readonly {
    readonly code: number;
    readonly called: string;
    readonly numbers: readonly StepNumberView[];
  }[];
}

/** The steps of a row in words, for each field that has a vocabulary. */
export function stepsOf(
  reading: Reading,
  of: GameTable,
  row: number,
  refAt: (table: number, row: number) => RowRef,
): StepsView[] {
  const { tables, keys } = reading;
  const { words, table } = of;
  const meant = (means: string, value: number): SaidPart => {
    const key = keys.find((one) => isTable(tables[one.table]!.id, means));
    const target = key?.rows.get(value);
    return key === undefined || target === undefined
      ? { lost: `${means} ${value}` }
      : { to: refAt(key.table, target) };
  };
  return words.flatMap((vocabulary): StepsView[] => {
    const cell: Cell | undefined = table.columns.find(({ name }) => name === vocabulary.field)?.cells[row];
    const steps = readSteps(cell, vocabulary);
    if (!(cell instanceof Uint8Array) && !isList(cell)) return [];
    return [
      {
        field: vocabulary.field,
        end: cell.length,
        isWritable: maySteps(of, vocabulary.field),
        stamp: stampOfSteps(cell),
        words: [...vocabulary.words.values()].map((one) => ({
          ...{ code: one.code, called: one.called },
          numbers: one.with.map(({ name, means }) => ({ name, means: means ?? null })),
        })),
        steps: steps.map(({ at, code, word, values, problem }) => ({
          ...{ at, code },
          problem: problem ?? null,
          called: word?.called ?? '',
          numbers:
            word && values.length >= word.with.length
              ? word.with.map(({ name, means }, i) => ({
                  name,
                  value: String(values[i]!),
                  means: means ?? null,
                }))
              : [],
          says: (word?.says ?? [`code ${code}`]).map((part): SaidPart => {
            if (typeof part === 'string') return { text: part };
            const value = values[part.argument];
            const means = word!.with[part.argument]!.means;
            if (value === undefined) return { text: '…' };
            if (means === JUMP) return { jump: value };
            return means === undefined ? { text: String(value) } : meant(means, value);
          }),
        })),
      },
    ];
  });
}

/** Steps as a text, to be searched. */
export const saidSteps = (all: readonly StepsView[]): string =>
  all
    .flatMap(({ steps }) =>
      steps.map(({ says }) =>
        says
          .map((part) =>
            'text' in part
              ? part.text
              : 'to' in part
                ? part.to.title
                : 'jump' in part
                  ? String(part.jump)
                  : part.lost,
          )
          .join(''),
      ),
    )
    .join('\n');
