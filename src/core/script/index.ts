export { Budget } from './budget';
export { flattened, type Evaluation, type Placed, type PlainRef } from './evaluation';
export { functions } from './functions';
export type { PayloadHandle, RecordNode, RegionNode, Space } from './model';
export { parseScript, scriptWords } from './parse-script';
export { RecordReader } from './read';
export { ReadEvaluation, type Keys, type PayloadAccess } from './read-evaluation';
export { implausible, resolveSeal, seal, sealNames, unseal, type ResolvedStep } from './seal';
export { scalars, type Scalar } from './scalars';
export { encodeText, unitLength } from './texts';
export type { Compiled, FieldType, NameHashing, PartType, PictureType, Script } from './types';
export {
  asCount,
  asInteger,
  asRef,
  asText,
  asTruth,
  canonical,
  describeValue,
  sameValue,
  type Value,
} from './values';
export { fieldOffset, valueLength, verifyField, verifyPart } from './verify';
