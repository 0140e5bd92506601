/** Control characters that stand in texts: tab, line ends, form feed, and the end sign and escape of terminals. */
const TEXT_CONTROLS = new Set([0x09, 0x0a, 0x0c, 0x0d, 0x1a, 0x1b]);
/** In an encoding of single bytes, one in so many may be a control character of another kind. */
const ODD_ONE_IN = 50;
/** Of UTF-16 without a mark, so many characters have to be of the first page to be taken for one. */
const WIDE_SHARE = 0.7;
/** Fewer bytes say nothing of whether they are UTF-16. */
const LEAST_WIDE = 8;

/**
 * Whether bytes are a text whatever they are called: with a byte order mark, in UTF-8, in an encoding of single or double bytes that
 * writes no control characters, or in UTF-16. `isWhole` says that nothing follows; else the last character may be cut.
 */
export function looksLikeText(bytes: Uint8Array, isWhole: boolean): boolean {
  if (bytes.length === 0) return false;
  const [a, b, c] = bytes;
  if (a === 0xef && b === 0xbb && c === 0xbf) return isUtf8(bytes.subarray(3), isWhole);
  if (a === 0xff && b === 0xfe) return isWide(bytes.subarray(2), true, 0);
  if (a === 0xfe && b === 0xff) return isWide(bytes.subarray(2), false, 0);
  if (bytes.includes(0)) return wideOrderOf(bytes) !== undefined;
  return isUtf8(bytes, isWhole) || isOfSingleBytes(bytes);
}

/** The order of bytes of UTF-16 without a mark; undefined where it is none. */
export function wideOrderOf(bytes: Uint8Array): 'little' | 'big' | undefined {
  if (bytes.length < LEAST_WIDE) return undefined;
  if (isWide(bytes, true, WIDE_SHARE)) return 'little';
  return isWide(bytes, false, WIDE_SHARE) ? 'big' : undefined;
}

/** UTF-8 (RFC 3629) without control characters that no text has. */
function isUtf8(bytes: Uint8Array, isWhole: boolean): boolean {
  let at = 0;
  while (at < bytes.length) {
    const byte = bytes[at]!;
    if (byte < 0x80) {
      if (isOddControl(byte)) return false;
      at++;
      continue;
    }
    const more =
      byte >= 0xc2 && byte < 0xe0 ? 1 : byte >= 0xe0 && byte < 0xf0 ? 2 : byte >= 0xf0 && byte < 0xf5 ? 3 : 0;
    if (more === 0) return false;
    for (let i = 1; i <= more; i++) {
      // Cut off in the middle of a character.
      if (at + i >= bytes.length) return !isWhole;
      if ((bytes[at + i]! & 0xc0) !== 0x80) return false;
    }
    at += more + 1;
  }
  return true;
}

const isOddControl = (byte: number): boolean => (byte < 0x20 && !TEXT_CONTROLS.has(byte)) || byte === 0x7f;

/** In texts of single bytes above this length there is a blank or line end somewhere. */
const MOST_WORD = 64;

/**
 * Windows-1252, Latin-1, Cyrillic code pages, Shift_JIS and their like: hardly a control character, blanks between words, and either mostly
 * letters of ASCII, or letters of another alphabet, or pairs. Numbers of two and four bytes have none of these.
 */
function isOfSingleBytes(bytes: Uint8Array): boolean {
  let [odd, high, letters, blanks, alphabet] = [0, 0, 0, 0, 0];
  for (const byte of bytes) {
    if (isOddControl(byte)) odd++;
    else if (byte >= 0xc0) alphabet++;
    if (byte >= 0x80) high++;
    else if (byte === 0x20 || (byte >= 9 && byte <= 13)) blanks++;
    else if ((byte | 0x20) >= 0x61 && (byte | 0x20) <= 0x7a) letters++;
  }
  const { length } = bytes;
  if (odd * ODD_ONE_IN > length) return false;
  if (length > MOST_WORD && blanks === 0 && !isDouble(bytes)) return false;
  // A text in ASCII with some signs beyond it.
  if (3 * high <= length) return 2 * (letters + blanks) >= length - high;
  // One in another alphabet, whose letters stand in the upper half of its page.
  if (5 * alphabet >= 4 * high && blanks > 0) return odd === 0;
  return odd === 0 && isDouble(bytes);
}

/** Pairs of Shift_JIS (JIS X 0208) between ASCII, and more of them than of its half-width letters, which stand alone. */
function isDouble(bytes: Uint8Array): boolean {
  let [pairs, halves] = [0, 0];
  for (let at = 0; at < bytes.length; at++) {
    const byte = bytes[at]!;
    if (byte < 0x80) continue;
    if (byte >= 0xa1 && byte <= 0xdf) {
      halves++;
      continue;
    }
    if (!((byte >= 0x81 && byte <= 0x9f) || (byte >= 0xe0 && byte <= 0xef))) return false;
    const next = bytes[++at];
    if (next !== undefined && (next < 0x40 || next > 0xfc || next === 0x7f)) return false;
    pairs++;
  }
  return pairs > halves;
}

/** UTF-16: no control characters, and at least a share of characters of Latin scripts, so that numbers in pairs are not taken for it. */
function isWide(bytes: Uint8Array, isLittle: boolean, share: number): boolean {
  const count = bytes.length >> 1;
  let latin = 0;
  for (let i = 0; i < count; i++) {
    const low = bytes[2 * i + (isLittle ? 0 : 1)]!;
    const high = bytes[2 * i + (isLittle ? 1 : 0)]!;
    if (high === 0) {
      if (isOddControl(low)) return false;
      latin++;
    } else if (high === 0xff && low >= 0xfe) return false;
  }
  return latin >= share * count;
}
