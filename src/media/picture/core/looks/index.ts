export { groupLooks } from './group-looks';
export { ALIKE, apartness, isTelling, lookOf, type LookHash } from './look-hash';
