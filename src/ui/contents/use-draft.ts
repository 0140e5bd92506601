'use client';
import { useCallback, useEffect, useRef, useState } from 'react';

const PREFIX = 'zero-latch-draft ';
const REST_MS = 250;

interface Kept {
  readonly text: string;
  readonly at: number;
}

function read(key: string): Kept | undefined {
  try {
    const kept = localStorage.getItem(PREFIX + key);
    return kept === null ? undefined : (JSON.parse(kept) as Kept);
  } catch {
    return undefined;
  }
}

/** Whether the browser has kept it; a very large text has no room there. */
function write(key: string, text: string | undefined): boolean {
  try {
    if (text === undefined) localStorage.removeItem(PREFIX + key);
    else localStorage.setItem(PREFIX + key, JSON.stringify({ text, at: Date.now() } satisfies Kept));
    return true;
  } catch {
    return false;
  }
}

export interface Draft {
  readonly text: string;
  /** When what is shown was left behind, where it was not typed just now. */
  readonly restoredFrom: number | undefined;
  set(text: string): void;
  clear(): void;
}

/**
 * A text that is being edited: what is not kept as a change is kept by the browser under `key`, so that another entry may be looked at, the page
 * be loaded anew or the browser end. `base` is the text that it was made from.
 */
export function useDraft(key: string, base: string): Draft {
  const [first] = useState(() => read(key));
  const [text, setText] = useState(first?.text ?? base);
  const [restoredFrom, setRestored] = useState(first && first.text !== base ? first.at : undefined);
  const pending = useRef<string>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const flush = useCallback((): boolean => {
    clearTimeout(timer.current);
    if (pending.current === undefined) return true;
    const kept = write(key, pending.current === base ? undefined : pending.current);
    if (kept) pending.current = undefined;
    return kept;
  }, [key, base]);
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent): void => {
      // Where it could not be kept, the browser asks.
      if (!flush()) event.preventDefault();
    };
    window.addEventListener('beforeunload', leave);
    return () => {
      window.removeEventListener('beforeunload', leave);
      flush();
    };
  }, [flush]);
  return {
    text,
    restoredFrom,
    set(next) {
      setText(next);
      pending.current = next;
      clearTimeout(timer.current);
      timer.current = setTimeout(flush, REST_MS);
    },
    clear() {
      clearTimeout(timer.current);
      pending.current = undefined;
      write(key, undefined);
      setRestored(undefined);
      setText(base);
    },
  };
}

/** Forgets what is kept under a key, once it has become a change. */
export const dropDraft = (key: string): void => void write(key, undefined);
