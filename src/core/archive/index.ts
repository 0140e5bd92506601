export type { Archive, Coverage, Entry, Stretch } from './archive';
export { entryUnder } from './group-entries';
export { kindOfPath, typeOfHead, type Kind } from './kind';
export { hashOfPath, parseNameList } from './names';
export { entryNamed, entrySource, openNested, type Nested } from './nested';
export { openArchive, recognises, type OpenOptions } from './open-archive';
export { pathProblem, portablePath, standInPath } from './path';
