export { isList, isRecord, spelledCell, type Cell, type NestedRecord } from './cell';
export {
  fieldPath,
  NAME_COLUMN,
  OWN_TABLE,
  valueWithin,
  type Column,
  type DataTable,
  type Place,
} from './data-table';
export { describedData } from './described-table';
export { tableAsCsv, tableAsJson, tableAsRows } from './spell-out';
export { fieldsOf, type Field } from './fields';
export { isOpenForm, readOpenTables, type ReadTables, type TableForm } from './read-open';
export { mergeSingles, type FiledTable, type GroupedTable } from './merge-singles';
export { titleColumn, titleOf } from './row-titles';
export {
  compareTables,
  describedForms,
  mergeCells,
  openForms,
  sameCell,
  writeCells,
  writeDescribedCells,
  writeDescribedItem,
  writeDescribedRow,
  writeItem,
  writeRow,
  type CellChange,
  type CellClash,
  type MergedCells,
  type TableChanges,
  type ItemEdit,
  type ItemLike,
  type RowEdit,
  type TableEdit,
} from './edit';
export { checkCell, readValue, type CellFinding, type CellRules, type ReadValue } from './check-cell';
export { fitTable, type FormedTables } from './fit-table';
export { calledValue, parseValueNames, VALUES_OF, type ValueNames } from './value-names';
