export { decodeAnyText, type TextFacts } from './encoding';
