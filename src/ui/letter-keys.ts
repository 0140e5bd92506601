'use client';
import { keepText, useKeptText } from './kept-text';

const KEPT = 'zero-latch-letter-keys';
const OFF = 'off';

/** Whether single letters do something; those who speak to their machine or press keys by mistake switch them off. */
export const lettersWork = (): boolean => localStorage.getItem(KEPT) !== OFF;

export function useLetterKeys(): [boolean, (on: boolean) => void] {
  const kept = useKeptText(KEPT);
  return [kept !== OFF, (on) => keepText(KEPT, on ? 'on' : OFF)];
}

/** Keys that do something of their own where the focus is in one of these. */
const OWN_KEYS =
  'input:not([type=checkbox]), textarea, [contenteditable], [role=dialog], [role=tree], [role=tablist], [role=separator]';

/** Whether a key that was pressed is for the page: not for a field or a dialog, and not one of the browser's own. */
export const isForPage = ({ ctrlKey, metaKey, altKey, target }: KeyboardEvent): boolean =>
  !ctrlKey && !metaKey && !altKey && !(target as HTMLElement).closest(OWN_KEYS);
