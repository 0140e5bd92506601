export { operate, recover, type InstallerPlaces, type Recovered, type Target } from './operate';
export { readJournals, type JournalFile } from './journal';
export { copyFlushed, keepOriginal, originalFile } from './originals';
