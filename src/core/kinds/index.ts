export { endingOf, fileStem, kindOfEnding } from './endings';
export { codeOfKind, countsByKind, KIND_CODES, kindOfCode, KINDS, type Kind } from './kinds';
export { containerOf, mayNameOthers, shownAs, typeOfHead, typeOfLength, type HeadType } from './signs';
export {
  NO_RULES,
  NOTHING_SAID,
  saidOf,
  START_BYTES,
  tellKind,
  type KindRules,
  type SaidKinds,
  type ScriptKind,
  type Start,
  type Told,
} from './tell';
export { looksLikeText, wideOrderOf } from './text';
