export { isOfAnother, readLedger, unchanged, type SourceFacts, type Unchanged, type Written } from './ledger';
export { matchedLines, matchLines, type KnownPaths, type MatchedLine } from './match-lines';
export { checkPattern, nameOf, type NameFacts } from './names';
export { CONVERSIONS, PICTURE_WAYS, Recipe, RecipeFile, type Conversion, type PictureWay } from './recipe';
