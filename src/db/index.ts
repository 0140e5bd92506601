export {
  dropDeskTexts,
  keepDeskTexts,
  DeskNoteRow,
  DeskStepRow,
  DeskTermRow,
  DeskTextRow,
  DeskHeldRow,
  DeskTongueRow,
} from './desk';
export { ReadingLinkRow, ReadingWordsRow } from './reading';
export { BoardRow, WayChoiceRow } from './sounds';
export { database, databaseUrl } from './database';
export { migrate } from './migrate';
export {
  ArchiveRow,
  BuildRow,
  ChangeRow,
  GameRow,
  IdTableRow,
  InstallationRow,
  JobRow,
  KeyRow,
  KindChoiceRow,
  MarkRow,
  ModRow,
  models,
  NameListRow,
  PickListRow,
  RecipeRow,
  SavedSearchRow,
  StepRow,
  TrialRow,
  type ArchiveSort,
  type ArchiveState,
  type NameListOrigin,
} from './models';
