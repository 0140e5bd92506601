export { pathStrings } from './path-strings';
export { countOfPattern, MOST_NAMES, namesOfPattern } from './pattern';
export { expectedByChance, isTaken, type Witnesses } from './witness';
