export { startOfBlocks } from './blocks';
export { ArchiveFiles, baseName, viewOf, type ArchiveFile, type FindCompanion } from './archive-files';
export { Budget } from './budget';
export { flattened, type Evaluation, type Placed, type PlainRef } from './evaluation';
export { functionGroups } from './functions';
export { isItems, ItemList, type Items } from './items';
export {
  absolute,
  located,
  startOf,
  HeldRecord,
  isHeld,
  type Located,
  type PayloadHandle,
  type RecordNode,
  type RegionNode,
  type Space,
} from './model';
export { isConstant } from './analyse-records';
export { recognitionIn } from './parse-marks';
export { readYaml, type Located as LocatedText } from './located';
export { withMeaning } from './say-meaning';
export { readNumberNames, type NumberNames } from './number-names';
export { keepTrees, type TreeCache, type YamlTree } from './yaml-tree';
export { parseScript } from './parse-script';
export { chooseShape } from './choose-shape';
export { RecordReader } from './read';
export { numberOfBits, putBits } from './put-bits';
export { copyRecord, rowBytes, tableOf, type TablePiece } from './rework';
export { explainParts, type Explanation } from './explain';
export { fieldIndex } from './field-index';
export { entryOf, ReadEvaluation, type Keys, type PayloadAccess } from './read-evaluation';
export { implausible, resolveSeal, seal, sealNames, unseal, unsealSmall, type ResolvedStep } from './seal';
export { numberedRows, RowTable, TableRow } from './table';
export { writeDigits } from './digits';
export { type Scalar } from './scalars';
export { isRest } from './rest';
export { decodeText, encodeText, readText, unitLength, type TextEncoding } from './texts';
export type { ModelFieldType, ModelStreamType, ModelType, Numbers } from './model-types';
export type {
  Compiled,
  EntriesType,
  FieldShape,
  FieldType,
  LinesType,
  FileType,
  NameHashing,
  PartType,
  PictureType,
  SoundType,
  Recognition,
  RecordType,
  SealStep,
  Script,
} from './types';
export {
  asCount,
  asInteger,
  asRef,
  asText,
  isTextual,
  asTruth,
  bare,
  canonical,
  describeValue,
  sameValue,
  type Value,
} from './values';
export { deepPaths, itemNode, PartVerifier, tableInputs, verifyField, type IsTried } from './verify';
