/** Signs that are told by name at most. */
const MOST_NAMED = 6;
export const quoted = (texts: readonly string[]): string =>
  texts.slice(0, MOST_NAMED).join(', ') + (texts.length > MOST_NAMED ? ' …' : '');

/** Half of a pair, which the rest of the pair may follow, or a zero. */
export const SENSELESS = /[\ud800-\udfff\0]/;
export const isSenseless = (sign: string): boolean => /^[\ud800-\udfff]$/.test(sign) || sign === '\0';

/** Signs with their code points. */
export const named = (found: readonly string[]): string =>
  quoted(
    found.map(
      (sign) =>
        `${isSenseless(sign) ? '' : `${sign} `}(U+${sign.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')})`,
    ),
  );

/** What stands for signs that an encoding or a font may not have, where they are no letter with a mark. */
const SPELLED: Readonly<Record<string, string>> = {
  ...{ '“': '"', '”': '"', '„': '"', '«': '"', '»': '"', '‘': "'", '’': "'", '‚': "'", '…': '...' },
  ...{ '–': '-', '—': '-', '‑': '-', '−': '-', '\u00a0': ' ', '\u202f': ' ', '×': 'x', '•': '*' },
  ...{ ł: 'l', Ł: 'L', ø: 'o', Ø: 'O', đ: 'd', Đ: 'D', ı: 'i', ß: 'ss', æ: 'ae', Æ: 'AE', œ: 'oe', Œ: 'OE' },
  ...{ ð: 'd', Ð: 'D', þ: 'th', Þ: 'Th' },
};

/** The text with signs spelled otherwise; undefined where one of them cannot be. */
export function spelled(text: string, without: readonly string[]): string | undefined {
  let now = text;
  for (const sign of without) {
    const plain = SPELLED[sign] ?? sign.normalize('NFKD').replace(/\p{M}/gu, '');
    if (plain === sign || plain === '') return undefined;
    now = now.split(sign).join(plain);
  }
  return now;
}
