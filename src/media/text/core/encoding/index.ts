export { decodeAnyText, textHead, type TextFacts } from './encoding';
