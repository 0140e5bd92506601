export { fitsVersion } from './version-fit';
export { findKeys, type FoundKey, type KeySearch, type KeySearchOptions } from './find-keys';
export { makeKeyProbe, type KeyProbe } from './key-probe';
export type { Spelling } from './spellings';
