/** What is known of the signs of a font. */
export interface FontSigns {
  readonly form: string;
  readonly name: string;
  /** How far the next sign stands from each, by its code point, in units of the font. */
  readonly widths: ReadonlyMap<number, number>;
}

/** What is never drawn: line ends and what only says how letters join or in which direction they go. */
const isDrawn = (code: number): boolean =>
  code >= 0x20 &&
  code !== 0x7f &&
  code !== 0xad &&
  !(code >= 0x200b && code <= 0x200f) &&
  !(code >= 0x202a && code <= 0x202e) &&
  !(code >= 0x2060 && code <= 0x206f) &&
  code !== 0xfeff;

/** Signs of a text that a font has not, each once, in their order. */
export function missingIn(font: FontSigns, text: string): string[] {
  const missing = new Set<string>();
  for (const sign of text) {
    const code = sign.codePointAt(0)!;
    if (isDrawn(code) && !font.widths.has(code)) missing.add(sign);
  }
  return [...missing];
}

/** How wide the widest line of a text is drawn, without kerning; what the font has not takes no room. */
export function widthIn(font: FontSigns, text: string): number {
  let widest = 0;
  for (const line of text.split(/\r\n|[\r\n]/)) {
    let width = 0;
    for (const sign of line) width += font.widths.get(sign.codePointAt(0)!) ?? 0;
    widest = Math.max(widest, width);
  }
  return widest;
}

const SCRIPTS = [
  ...['Latin', 'Greek', 'Cyrillic', 'Armenian', 'Hebrew', 'Arabic', 'Devanagari', 'Thai'],
  ...['Hangul', 'Hiragana', 'Katakana', 'Han'],
] as const;
const OF_SCRIPT = SCRIPTS.map((name) => [name, new RegExp(`\\p{Script=${name}}`, 'u')] as const);
/** So many letters of a script make it one that the font is for. */
const LEAST_LETTERS = 10;

/** Scripts that a font has letters of (Unicode Standard Annex 24). */
export function scriptsOf({ widths }: FontSigns): string[] {
  const counts = new Map<string, number>();
  for (const code of widths.keys()) {
    if (code > 0x10ffff || (code >= 0xd800 && code <= 0xdfff)) continue;
    const sign = String.fromCodePoint(code);
    const found = OF_SCRIPT.find(([, letters]) => letters.test(sign));
    if (found) counts.set(found[0], (counts.get(found[0]) ?? 0) + 1);
  }
  return SCRIPTS.filter((name) => (counts.get(name) ?? 0) >= LEAST_LETTERS);
}

/** Share of the letters of a text that a font has to have to be one for texts like it. */
const LEAST_SHARE = 0.95;

/** Whether a font is for texts like one: others are for icons, numbers, or another script. */
export function isFontFor(font: FontSigns, sample: string): boolean {
  let [all, has] = [0, 0];
  for (const sign of sample) {
    const code = sign.codePointAt(0)!;
    if (!/\p{L}/u.test(sign)) continue;
    all++;
    if (font.widths.has(code)) has++;
  }
  return all > 0 && has >= LEAST_SHARE * all;
}
