export { describedFont } from './described-font';
export { isFontFor, missingIn, scriptsOf, widthIn, type FontSigns } from './font-signs';
export { fitFont } from './fit-font';
export type { FontHead } from './head';
