'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useColorScheme } from '@mui/material/styles';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';
import { useState } from 'react';
import { MONO } from '../theme';

const EXTENSIONS = [
  EditorView.lineWrapping,
  EditorView.theme({ '.cm-content, .cm-gutters': { fontFamily: MONO } }),
];

/** A text to read, and to change in place. */
export function TextView({
  text,
  whole,
  onSave,
  saving,
}: {
  text: string;
  whole: boolean;
  onSave: (text: string) => void;
  saving: boolean;
}) {
  const [edited, setEdited] = useState(text);
  const { mode, systemMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  return (
    <>
      <Box sx={{ border: 1, borderColor: 'line', borderRadius: 1, overflow: 'hidden', fontSize: 12.5 }}>
        <CodeMirror
          value={edited}
          height="240px"
          extensions={EXTENSIONS}
          theme={dark ? 'dark' : 'light'}
          editable={whole}
          onChange={setEdited}
          aria-label="Text"
          basicSetup={{ foldGutter: false, highlightActiveLine: false }}
        />
      </Box>
      {edited !== text && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
          <Button variant="contained" loading={saving} onClick={() => onSave(edited)}>
            Keep as a change
          </Button>
          <Button onClick={() => setEdited(text)}>Put back</Button>
        </Box>
      )}
    </>
  );
}
