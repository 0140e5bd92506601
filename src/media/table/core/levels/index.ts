export { Levels, type Level, type LevelPart, type PartStop } from './assemble';
export { guessParts } from './guess-parts';
export { PARTS_OF, parsePartsWords, spelledParts, type PartsWords } from './parts-words';
