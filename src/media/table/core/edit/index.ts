export { compareTables, sameCell, type CellChange, type TableChanges } from './compare-tables';
export { writeDescribedCells } from './described-cells';
export { writeDescribedItem } from './described-items';
export { writeDescribedRow } from './described-rows';
export { describedForms, mergeCells, openForms, type CellClash, type MergedCells } from './merge-cells';
export { writeCells, type TableEdit } from './write-cells';
export { writeItem, type ItemEdit, type ItemLike } from './write-items';
export { writeRow, type RowEdit } from './write-rows';
