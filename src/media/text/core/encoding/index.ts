export { decodeAnyText, textHead, type TextFacts } from './encoding';

/** A text of more bytes is shown in part, and not edited here. */
export const MOST_TEXT_BYTES = 2 * 1024 * 1024;
