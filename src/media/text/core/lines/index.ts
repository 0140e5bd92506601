export { refuseUnlike } from './refuse-unlike';
export { describedTable } from './described-table';
export { programTable, type HeldPlace } from './program-table';
export { readOpenTable } from './read-table';
export {
  type AddedLine,
  type Forbidden,
  type LengthLimit,
  type LineTable,
  type TableLine,
  type TextChange,
} from './table';
export { checkLine, type LineCode, type LineFinding, type LineRules, type Term } from './check-line';
export type { LineFonts, NamedFont } from './drawn-line';
export { marksOf, type TextMark } from './marks-of-text';
export { cellSpans, rowsOf } from './column-rows';
export { keyedTable } from './keyed-table';
export { shellOf, type Shell } from './shell';
export { replaced, type Span } from './table';
