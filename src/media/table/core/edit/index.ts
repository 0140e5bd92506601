export { compareTables, sameCell, type CellChange, type TableChanges } from './compare-tables';
export { mergeCells, type CellClash, type MergedCells } from './merge-cells';
export { writeCells, type TableEdit } from './write-cells';
