/** A table of texts by rule: a key, a tab and a sentence, no two alike. */
export function tabbedTableText(count: number, tongue: 'en' | 'de'): Uint8Array {
  const [who, does, what] =
    tongue === 'en'
      ? [
          ['Odd', 'Ibis', 'The Widow'],
          ['wants', 'carries', 'forgets'],
          ['a lantern', 'oil', 'eels', 'the bell'],
        ]
      : [
          ['Odd', 'Ibis', 'Die Witwe'],
          ['will', 'trägt', 'vergisst'],
          ['eine Laterne', 'Öl', 'Aale', 'die Glocke'],
        ];
  const lines: string[] = [];
  for (let i = 0; i < count; i++)
    lines.push(
      `line.${String(i).padStart(6, '0')}\t${who[i % 3]} ${does[(i >> 2) % 3]} ${what[(i >> 4) % 4]} at landing ${i}, for {coins} coins.`,
    );
  return new TextEncoder().encode(`${lines.join('\n')}\n`);
}
