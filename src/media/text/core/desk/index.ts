export {
  broughtBack,
  markOf,
  type BroughtBack,
  type BroughtLine,
  type KnownLine,
  type TextTaken,
} from './brought-back';
export {
  idOf,
  LINE_STATES,
  textNow,
  type DeskLine,
  type LineId,
  type LineState,
  type LineWork,
} from './desk-line';
export { LineIndex } from './line-index';
export { likeness, Memory, type Remembered } from './memory';
export {
  LINE_ORDERS,
  pickLines,
  SHOWN,
  type LineFacts,
  type LineOrder,
  type LineQuery,
  type Shown,
} from './pick-lines';
export { formLine, formOf, formsIn, isFormOf, missingForms } from './plural-forms';
export { progressBy, wordsIn, type Progress } from './progress';
export { sideBySide, type TableColumn } from './side-by-side';
export { replacedIn, type Replacing } from './replace-text';
