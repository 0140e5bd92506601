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
