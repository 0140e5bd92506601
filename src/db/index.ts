export { database, databaseUrl } from './database';
export {
  countEntries,
  findEntries,
  findEntriesByRef,
  findEntry,
  findFolders,
  findStack,
  knownPaths,
  replaceEntries,
  settleWinners,
  type EntryPage,
  type EntryQuery,
  type EntryRecord,
} from './entries';
export { migrate } from './migrate';
export {
  ArchiveRow,
  BuildRow,
  ChangeRow,
  GameRow,
  InstallationRow,
  JobRow,
  KeyRow,
  ModRow,
  models,
  NameListRow,
  TrialRow,
  type ArchiveState,
} from './models';
