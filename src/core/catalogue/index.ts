export { inOtherTongues, type OtherTongue } from './other-tongues';
export { runsOf, type Run } from './runs';
export { commonAffixes, type Affix } from './affixes';
export { AnyCaseIndex } from './any-case';
export { Catalogue, SORTS, type CatalogueRow, type Sort } from './catalogue';
export {
  columnOver,
  COLUMNS_START_BYTES,
  columnsHeadLength,
  packColumns,
  readColumnsHead,
  type Column,
  type ColumnsHead,
} from './columns-file';
export {
  factCounts,
  findRows,
  pageOf,
  placeOf,
  totalsOf,
  type FindContext,
  type PageWanted,
  type Totals,
  type Wanted,
} from './find';
export { factOf, factsOfArchive, packFacts, unpackFacts, type FactColumn, type FactTitle } from './facts';
export { readEntryColumns } from './fields';
export { alikeInName, isFinest } from './finest';
export { folderAt, type Folder } from './folders';
export { HashIndex, hashReferences, type HashReference } from './hash-references';
export {
  affixOf,
  codesOfJson,
  codesOfRows,
  fitsAffix,
  wordsOfPath,
  type Code,
  type IdTable,
  type MoreColumns,
} from './id-table';
export { factsOfTables } from './told-facts';
export {
  pathInTongue,
  TongueIndex,
  threeLetters,
  spelledAs,
  tongueIn,
  tongueName,
  tongueOf,
  tonguePlaces,
  tonguesIn,
  writtenAs,
  type TonguePlace,
} from './tongues';
export { LineSearch } from './line-search';
export {
  aboutListing,
  FLAG,
  listArchive,
  ListingBuilder,
  packListing,
  unpackListing,
  type Listing,
  type ListingOptions,
} from './listing';
export {
  FOUND,
  MEASURED_SORTS,
  MEASURES,
  noMeasures,
  noteMeasured,
  type FoundWord,
  type Measure,
  type Measured,
  type MeasuredSort,
  type Measures,
} from './measures';
export { mergeListings, MOST_ARCHIVES, type CatalogueColumns } from './merge';
export { namesakesOf, rowSpelled } from './namesakes';
export { rowNumbered } from './row-numbered';
export { parseQuery, type Condition, type State, type Term } from './query';
