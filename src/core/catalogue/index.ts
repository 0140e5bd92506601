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
} from './id-table';
export { TongueIndex, threeLetters, tongueName, tonguesIn } from './tongues';
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
  MEASURES,
  noMeasures,
  noteMeasured,
  type FoundWord,
  type Measure,
  type Measured,
  type Measures,
} from './measures';
export { mergeListings, MOST_ARCHIVES, type CatalogueColumns } from './merge';
export { namesakesOf } from './namesakes';
export { parseQuery, type Condition, type State, type Term } from './query';
