export { chainOf, type Chain, type ChainRow } from './chains';
export {
  guessLinks,
  keyFields,
  saysTable,
  type FoundLink,
  type KeyField,
  type TableFields,
} from './guess-links';
export { ReferenceIndex, type Dangling, type Reference, type TableLink } from './reference-index';
export { idleFields, unreadRows, type IdleField, type UnreadRows } from './unread';
