'use client';
import { useEffect } from 'react';

interface Keys {
  readonly isOff: boolean;
  move(by: number): void;
  write(): void;
  done(): void;
  search(): void;
  replace(): void;
  step(direction: 'undo' | 'redo'): void;
}

/** Rows that a page of the list is. */
const PAGE = 12;

/** The desk by keyboard: arrows move, Enter writes, D says done, / searches. */
export function useDeskKeys({ isOff, move, write, done, search, replace, step }: Keys): void {
  useEffect(() => {
    if (isOff) return;
    const press = (event: KeyboardEvent): void => {
      const at = event.target as HTMLElement;
      const isField = at.closest(
        'input:not([type=checkbox]), textarea, [contenteditable], [role=dialog], [role=listbox], [role=menu]',
      );
      const isControl = event.ctrlKey || event.metaKey;
      if (isField) return;
      const key = event.key.toLowerCase();
      const does = (work: () => void): void => {
        event.preventDefault();
        work();
      };
      if (isControl && key === 'z') return does(() => step(event.shiftKey ? 'redo' : 'undo'));
      if (isControl && key === 'y') return does(() => step('redo'));
      if (isControl && key === 'h') return does(replace);
      if (isControl || event.altKey) return;
      // A button that has the focus is pressed by Enter.
      if (key === 'enter' && at.closest('button, a')) return;
      if (key === 'arrowdown') return does(() => move(1));
      if (key === 'arrowup') return does(() => move(-1));
      if (key === 'pagedown') return does(() => move(PAGE));
      if (key === 'pageup') return does(() => move(-PAGE));
      if (key === 'home') return does(() => move(Number.NEGATIVE_INFINITY));
      if (key === 'end') return does(() => move(Number.POSITIVE_INFINITY));
      if (key === 'enter' || key === 'f2') return does(write);
      if (key === 'd') return does(done);
      if (key === '/') return does(search);
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [isOff, move, write, done, search, replace, step]);
}
