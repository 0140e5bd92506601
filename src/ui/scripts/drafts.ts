'use client';
import { useCallback } from 'react';
import { keepText, useKeptText } from '../kept-text';

const KEY = 'zero-latch-script-drafts';
type Drafts = Record<string, string>;

const parsed = (kept: string | null): Drafts => JSON.parse(kept ?? '{}') as Drafts;

/** Texts that are not saved yet, by script; the browser keeps them when the page is left. */
export function useDrafts(): [Drafts, (id: string, text: string | undefined) => void] {
  const drafts = parsed(useKeptText(KEY));
  const set = useCallback((id: string, text: string | undefined) => {
    const drafts = { ...parsed(localStorage.getItem(KEY)) };
    if (text === undefined) delete drafts[id];
    else drafts[id] = text;
    keepText(KEY, JSON.stringify(drafts));
  }, []);
  return [drafts, set];
}
