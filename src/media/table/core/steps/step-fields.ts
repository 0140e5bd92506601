import type { Cell } from '../cell';
import type { Field } from '../fields';
import { readSteps } from './read-steps';
import { JUMP, type Vocabulary } from './vocabulary';

/** A field that steps make: what one number of one word says in all rows, and which table it means. */
export interface StepField {
  readonly field: Field;
  readonly means: string;
}

/** What steps say of rows of tables, as fields: `steps.keep.promise` holds every promise that a step keeps. */
export function stepFields(cells: readonly (Cell | undefined)[], vocabulary: Vocabulary): StepField[] {
  const found = new Map<string, { means: string; numbers: number[]; rows: number[] }>();
  for (const [row, cell] of cells.entries())
    for (const { word, values } of readSteps(cell, vocabulary))
      for (const [i, { name, means }] of (word?.with ?? []).entries()) {
        const value = values[i];
        if (means === undefined || means === JUMP || value === undefined) continue;
        const path = `${vocabulary.field}.${word!.called}.${name}`;
        let own = found.get(path);
        if (!own) found.set(path, (own = { means, numbers: [], rows: [] }));
        own.numbers.push(value);
        own.rows.push(row);
      }
  return [...found].map(([path, { means, numbers, rows }]) => ({
    means,
    field: {
      path,
      numbers: Float64Array.from(numbers),
      numberRows: Uint32Array.from(rows),
      texts: [],
      textRows: new Uint32Array(0),
      filled: new Set(rows).size,
      isSingle: false,
    },
  }));
}
