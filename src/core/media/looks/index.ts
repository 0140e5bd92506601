export { ALIKE, apartness, isTelling, lookOf, type LookHash } from './look-hash';
