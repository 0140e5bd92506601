/**
 * Whether a text fits a pattern in which `*` stands for any signs and `?` for one. Goes back only to the last star, so that
 * no pattern takes more than the product of both lengths (R. Cox, "Glob Matching Can Be Simple And Fast Too", 2017).
 */
export function fitsPattern(pattern: string, text: string): boolean {
  let [p, t] = [0, 0];
  let [starAt, resumeAt] = [-1, 0];
  while (t < text.length) {
    if (p < pattern.length && pattern[p] === '*') {
      starAt = p++;
      resumeAt = t;
    } else if (p < pattern.length && (pattern[p] === '?' || pattern[p] === text[t])) {
      p++;
      t++;
    } else if (starAt >= 0) {
      p = starAt + 1;
      t = ++resumeAt;
    } else return false;
  }
  while (pattern[p] === '*') p++;
  return p === pattern.length;
}

/** The longest piece of a pattern without a wildcard; empty where there is none. */
export const longestLiteral = (pattern: string): string =>
  pattern.split(/[*?]+/).reduce((longest, piece) => (piece.length > longest.length ? piece : longest), '');

const [STAR, ANY] = [42, 63];
const lower = (byte: number): number => (byte >= 65 && byte <= 90 ? byte + 32 : byte);

/**
 * The same for bytes of ASCII and a pattern in lower letters, in any case, without making a text of them; undefined where
 * there are other bytes, of which one sign takes several.
 */
export function fitsPatternBytes(
  pattern: Uint8Array,
  bytes: Uint8Array,
  from: number,
  end: number,
): boolean | undefined {
  let [p, t] = [0, from];
  let [starAt, resumeAt] = [-1, 0];
  while (t < end) {
    if (bytes[t]! > 127) return undefined;
    if (p < pattern.length && pattern[p] === STAR) {
      starAt = p++;
      resumeAt = t;
    } else if (p < pattern.length && (pattern[p] === ANY || pattern[p] === lower(bytes[t]!))) {
      p++;
      t++;
    } else if (starAt >= 0) {
      p = starAt + 1;
      t = ++resumeAt;
    } else return false;
  }
  while (pattern[p] === STAR) p++;
  return p === pattern.length;
}
