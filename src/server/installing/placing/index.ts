export {
  mend,
  operate,
  type InstallerPlaces,
  type Mended,
  type OperateOptions,
  type Target,
} from './operate';
export { closeJournal, readJournals, sweepJournals, type Journal, type JournalFile } from './journal';
export { copyFlushed, keepOriginal, originalFile } from './originals';
