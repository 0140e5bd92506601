import type { Prepared } from '@/core/fit';
import type { FontSigns } from './font-signs';
import { foundInFonts } from './wording';

/** Signs that are told at most. */
const MOST_NAMED = 12;

/** A font given for another: whether it is one, in the same form, and has the signs that were there. */
export function fitFont(slot: FontSigns, given: FontSigns | undefined, bytes: Uint8Array): Prepared {
  if (!given)
    return { bytes: undefined, findings: [foundInFonts('does not fit', 'no-font', { form: slot.form })] };
  const lost = [...slot.widths.keys()].filter((code) => !given.widths.has(code));
  const first = lost.slice(0, MOST_NAMED).map((code) => String.fromCodePoint(code));
  const [is, was] = [given.widths.size, slot.widths.size];
  return {
    bytes,
    findings: [
      ...(given.form === slot.form
        ? []
        : [foundInFonts('look', 'other-form', { is: given.form, was: slot.form })]),
      lost.length > 0
        ? foundInFonts('look', 'lost-signs', { count: lost.length, first })
        : foundInFonts('fits', 'signs', { is, was }),
    ],
  };
}
