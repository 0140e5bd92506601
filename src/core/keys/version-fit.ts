/**
 * Whether something for one version is for what tells these: `3` fits `Peatfire 3` and `version 3.2`, not `13` or `4.3`; in any
 * case. With nothing to go by, everything fits.
 */
export function fitsVersion(wanted: string, told: readonly string[]): boolean {
  const words = wanted.trim().toLowerCase().replace(/\s+/g, ' ');
  if (words === '' || told.length === 0) return true;
  return told.some((version) => {
    const text = version.toLowerCase().replace(/\s+/g, ' ');
    for (let at = text.indexOf(words); at >= 0; at = text.indexOf(words, at + 1)) {
      const [before, behind] = [text[at - 1] ?? ' ', text[at + words.length] ?? ' '];
      if (!/[\p{L}\d.]/u.test(before) && !/[\p{L}\d]/u.test(behind)) return true;
    }
    return false;
  });
}
