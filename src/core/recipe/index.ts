export { isOfAnother, readLedger, unchanged, type SourceFacts, type Unchanged, type Written } from './ledger';
export { matchedLines, matchLines, type KnownPaths, type MatchedLine } from './match-lines';
export { checkPattern, nameOf, type NameFacts } from './names';
export { Conversions, conversionsOf, Recipe, RecipeFile, type Conversion } from './recipe';
