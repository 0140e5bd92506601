'use client';
import SearchRounded from '@mui/icons-material/SearchRounded';
import InputAdornment from '@mui/material/InputAdornment';
import TextField from '@mui/material/TextField';
import { memo, useState, type RefObject } from 'react';

/**
 * The search as it is typed. The address follows behind, later when the machine is busy, so what stands in the
 * box is kept here: taken from the address it would lose letters that are typed meanwhile.
 */
export const SearchBox = memo(function SearchBox({
  value,
  onSearch,
  onLeave,
  inputRef,
}: {
  value: string;
  onSearch: (text: string) => void;
  /** Down or Enter: into the list. */
  onLeave: () => void;
  inputRef: RefObject<HTMLInputElement | null>;
}) {
  const [text, setText] = useState(value);
  const [sent, setSent] = useState<readonly string[]>([]);
  const [seen, setSeen] = useState(value);
  if (value !== seen) {
    setSeen(value);
    const at = sent.indexOf(value);
    // What was sent from here comes back in order; anything else was set from outside, by a link or by Back.
    if (at >= 0) setSent(sent.slice(at + 1));
    else {
      setText(value);
      setSent([]);
    }
  }
  return (
    <TextField
      inputRef={inputRef}
      placeholder="Path, *, /expression/, kind:, size:, in:"
      value={text}
      onChange={({ target }) => {
        setText(target.value);
        setSent([...sent, target.value].slice(-50));
        onSearch(target.value);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Escape') inputRef.current?.blur();
        else if (event.key === 'ArrowDown' || event.key === 'Enter') {
          event.preventDefault();
          onLeave();
        }
      }}
      sx={{ flex: '1 1 200px', minWidth: 160, maxWidth: 420 }}
      slotProps={{
        htmlInput: { 'aria-label': 'Search the contents' },
        input: {
          startAdornment: (
            <InputAdornment position="start">
              <SearchRounded fontSize="small" />
            </InputAdornment>
          ),
          sx: { height: 34 },
        },
      }}
    />
  );
});
