export { FormatError, withFacts, type FormatErrorCode, type FormatErrorFacts } from './format-error';
export { ReadAhead } from './read-ahead';
export { joinedSource, type Stretched } from './joined-source';
export { CHUNK_BYTES, checkRange, memorySource, type ByteSink, type ByteSource } from './source';
export {
  collect,
  concatRefs,
  equalBytes,
  firstDifference,
  isAtHand,
  refOfBytes,
  refOfSpan,
  sliceOf,
  windowOf,
  type BytesRef,
} from './bytes-ref';
export { fromHex, toHex, hexOf64, spelledBytes } from './hex';
export { fromHalf, toHalf } from './half';
