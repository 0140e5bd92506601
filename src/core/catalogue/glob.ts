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
