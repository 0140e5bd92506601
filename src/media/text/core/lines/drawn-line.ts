import { missingIn, widthIn, type FontSigns } from '@/media/font/core';
import type { LineFinding, LineRules } from './check-line';
import { marksOf } from './marks-of-text';
import { named, spelled } from './other-signs';

/** A font of a game by what its file is called. */
export interface NamedFont {
  readonly name: string;
  readonly font: FontSigns;
}

/** What a text may be drawn with. */
export interface LineFonts {
  readonly fonts: readonly NamedFont[];
  /** Whether the table says so itself; else they are those of the game that are for texts like it. */
  readonly isSaid: boolean;
}

/** Signs that would not be drawn, and lines that are wider than their place. Values that the game puts in and tags are not counted. */
export function drawnFindings(
  text: string,
  { fonts: of, width, patterns }: Pick<LineRules, 'fonts' | 'width' | 'patterns'>,
): LineFinding[] {
  if (!of || of.fonts.length === 0) return [];
  const { fonts, isSaid } = of;
  const { marks } = marksOf(text, patterns);
  const drawn = [...marks].reverse().reduce((now, { at, text: mark }) => cut(now, at, mark.length), text);
  const missing = fonts.map(({ name, font }) => ({ name, signs: missingIn(font, drawn) }));
  const nowhere = missing[0]!.signs.filter((sign) => missing.every(({ signs }) => signs.includes(sign)));
  const found: LineFinding[] = [];
  const mendFor = (signs: readonly string[]): string | undefined => {
    const mend = spelled(text, signs);
    return mend !== undefined && fonts.every(({ font }) => !missesAny(font, mend, signs)) ? mend : undefined;
  };
  if (nowhere.length > 0)
    found.push({
      ...{ code: 'font', state: isSaid ? 'wrong' : 'look' },
      what: `${named(nowhere)} is not in ${fonts.length === 1 ? fonts[0]!.name : `any of ${fonts.length} fonts`}`,
      ...{ why: 'The game would show a box, or nothing', mend: mendFor(nowhere) },
    });
  for (const { name, signs } of missing) {
    const only = signs.filter((sign) => !nowhere.includes(sign));
    if (only.length === 0) continue;
    found.push({
      ...{ code: 'font', state: 'look', what: `${named(only)} is not in ${name}`, mend: mendFor(only) },
      why: 'Where the game uses that font it would show a box, or nothing',
    });
  }
  const [first] = fonts;
  // Which of several it is drawn with is not known.
  if (width === undefined || fonts.length > 1) return found;
  const is = widthIn(first!.font, drawn);
  const isLeast = marks.some(({ sort }) => sort === 'value');
  if (is > width)
    found.push({
      ...{ code: 'too long', state: 'wrong' },
      what: `${isLeast ? 'at least ' : ''}${is} wide in ${first!.name}, at most ${width}`,
      why: `${is - width} too wide; the rest would be cut off or run over its place`,
    });
  return found;
}

const cut = (text: string, at: number, length: number): string => text.slice(0, at) + text.slice(at + length);

const missesAny = (font: FontSigns, mend: string, before: readonly string[]): boolean =>
  missingIn(font, mend).some((sign) => !before.includes(sign) && font.widths.size > 0);
