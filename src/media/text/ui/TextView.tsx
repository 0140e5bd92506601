'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useColorScheme } from '@mui/material/styles';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';
import { when } from '@/ui/format';
import { MONO } from '@/ui/theme';
import { useDraft } from '@/ui/contents/use-draft';

const EXTENSIONS = [
  EditorView.lineWrapping,
  EditorView.theme({ '.cm-content, .cm-gutters': { fontFamily: MONO } }),
];

/** A text to read, and to change in place. What is typed stays until it is kept as a change or put back. */
export function TextView({
  text,
  whole,
  draftKey,
  onSave,
  saving,
}: {
  text: string;
  whole: boolean;
  /** Under which the browser keeps what is not a change yet; none where the text is only read. */
  draftKey: string | undefined;
  onSave: (text: string) => void;
  saving: boolean;
}) {
  const { mode, systemMode } = useColorScheme();
  const dark = (mode === 'system' ? systemMode : mode) === 'dark';
  const draft = useDraft(draftKey ?? '', text);
  const shown = draftKey === undefined ? text : draft.text;
  return (
    <>
      {draft.restoredFrom !== undefined && shown !== text && (
        <Box role="status" sx={{ mb: 1, px: 1, py: 0.5, bgcolor: 'lookBack', fontSize: 13 }}>
          What you typed {when(new Date(draft.restoredFrom).toISOString())} and did not keep is here again.
        </Box>
      )}
      <Box sx={{ border: 1, borderColor: 'line', borderRadius: 1, overflow: 'hidden', fontSize: 12.5 }}>
        <CodeMirror
          value={shown}
          height="240px"
          extensions={EXTENSIONS}
          theme={dark ? 'dark' : 'light'}
          editable={whole && draftKey !== undefined}
          onChange={draft.set}
          aria-label="Text"
          basicSetup={{ foldGutter: false, highlightActiveLine: false }}
        />
      </Box>
      {shown !== text && (
        <Box sx={{ display: 'flex', gap: 1, mt: 1 }}>
          <Button variant="contained" loading={saving} onClick={() => onSave(shown)}>
            Keep as a change
          </Button>
          <Button onClick={draft.clear}>Put back</Button>
        </Box>
      )}
    </>
  );
}
