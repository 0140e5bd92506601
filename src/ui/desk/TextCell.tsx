'use client';
import { useEffect, useRef, useState } from 'react';
import type { DeskRow } from '@/server/desk/desk-view';

interface Props {
  readonly row: DeskRow;
  readonly lang: string;
  readonly onSave: (
    row: DeskRow,
    text: string,
    how: { readonly isDone: boolean; readonly next: number },
  ) => void;
  readonly onLeave: () => void;
}

/** The text of a line while it is written where it stands: Enter keeps it and goes on, Shift and Enter break the line, Escape leaves it as it was. */
export function TextCell({ row, lang, onSave, onLeave }: Props) {
  // What somebody else writes meanwhile is not what one began from.
  const [began] = useState(row);
  const [text, setText] = useState(began.text);
  const field = useRef<HTMLTextAreaElement>(null);
  /** What was left by a key is not left once more by losing the focus. */
  const isOver = useRef(false);
  useEffect(() => {
    field.current?.focus();
    field.current?.select();
  }, []);
  useEffect(() => {
    const at = field.current;
    if (!at) return;
    at.style.height = 'auto';
    at.style.height = `${Math.max(40, at.scrollHeight)}px`;
  }, [text]);
  return (
    <textarea
      ref={field}
      value={text}
      lang={lang}
      dir="auto"
      aria-label={`Text of ${row.key}`}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => {
        if (isOver.current) return;
        isOver.current = true;
        if (text === began.text) onLeave();
        else onSave(began, text, { isDone: false, next: 0 });
      }}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.nativeEvent.isComposing) return;
        if (event.key === 'Escape') {
          event.preventDefault();
          isOver.current = true;
          onLeave();
        } else if ((event.key === 'Enter' && !event.shiftKey) || event.key === 'Tab') {
          event.preventDefault();
          isOver.current = true;
          onSave(began, text, { isDone: event.ctrlKey || event.metaKey, next: event.shiftKey ? -1 : 1 });
        }
      }}
      style={{
        ...{ width: '100%', boxSizing: 'border-box', resize: 'none', font: 'inherit', padding: 4 },
        ...{ color: 'inherit', background: 'var(--mui-palette-background-paper)' },
        ...{ border: '2px solid var(--mui-palette-brass)', borderRadius: 4, position: 'relative', zIndex: 2 },
      }}
    />
  );
}
