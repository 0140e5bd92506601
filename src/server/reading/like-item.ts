import { isList, isRecord, type Cell, type ItemLike, type Place } from '@/media/table/core';

/** The first item of a list that stands where another one does, numbers of items aside; undefined where all of these are empty. */
function firstWithin(cell: Cell | undefined, path: Place): Place | undefined {
  const [step, ...rest] = path;
  if (step === undefined) return isList(cell) && cell.length > 0 ? [0] : undefined;
  if (isRecord(cell)) {
    const found = firstWithin(cell.get(String(step)), rest);
    return found && [step, ...found];
  }
  if (!isList(cell)) return undefined;
  for (const [i, own] of cell.entries()) {
    const found = firstWithin(own, rest);
    if (found) return [i, ...found];
  }
  return undefined;
}

/** What a first item of an empty list would be like: the first of the nearest row that has one in the same place. */
export function likeFirst(
  cells: readonly (Cell | undefined)[],
  row: number,
  path: Place,
): ItemLike | undefined {
  for (let away = 0; away < cells.length; away++)
    for (const near of away === 0 ? [row] : [row - away, row + away]) {
      const within = firstWithin(cells[near], path);
      if (within) return { row: near, within };
    }
  return undefined;
}
