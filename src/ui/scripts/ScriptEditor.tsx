'use client';
import { yaml } from '@codemirror/lang-yaml';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import Box from '@mui/material/Box';
import { useColorScheme } from '@mui/material/styles';
import CodeMirror, { type Extension } from '@uiw/react-codemirror';
import { useMemo } from 'react';
import type { ScriptCheck } from '@/server/own-scripts';
import { api } from '../api';

/** Asks the server what it thinks of the text, a moment after the last key. */
function checking(onCheck: (check: ScriptCheck) => void): Extension {
  return linter(
    async (view): Promise<Diagnostic[]> => {
      const text = view.state.doc.toString();
      const check = await api.post<ScriptCheck>('scripts/check', { text });
      onCheck(check);
      if (!check.problem) return [];
      const { doc } = view.state;
      const line = doc.line(Math.min(Math.max(1, check.problem.line), doc.lines));
      const from = Math.min(line.to, line.from + check.problem.column - 1);
      return [{ from, to: line.to, severity: 'error', message: check.problem.message }];
    },
    { delay: 350 },
  );
}

/** The text of a script with line numbers, folding, search and the place of a mistake. */
export function ScriptEditor({
  text,
  readOnly,
  onChange,
  onCheck,
}: {
  text: string;
  readOnly: boolean;
  onChange: (text: string) => void;
  onCheck: (check: ScriptCheck) => void;
}) {
  const { mode, systemMode } = useColorScheme();
  const scheme = (mode === 'system' ? systemMode : mode) === 'dark' ? 'dark' : 'light';
  const extensions = useMemo(() => [yaml(), lintGutter(), checking(onCheck)], [onCheck]);
  return (
    <Box
      sx={{
        flex: 1,
        minHeight: 0,
        overflow: 'hidden',
        border: 1,
        borderColor: 'line',
        borderRadius: 1,
        '& .cm-theme, & .cm-theme-light, & .cm-theme-dark': { height: '100%' },
        '& .cm-editor': { height: '100%', bgcolor: 'background.paper' },
        '& .cm-editor .cm-scroller': { fontFamily: 'var(--mono, monospace)', fontSize: 13 },
        '& .cm-editor .cm-gutters': { bgcolor: 'panel', color: 'ink2', borderColor: 'line' },
        '& .cm-editor .cm-activeLine, & .cm-editor .cm-activeLineGutter': { bgcolor: 'tint' },
      }}
    >
      <CodeMirror
        value={text}
        height="100%"
        theme={scheme}
        readOnly={readOnly}
        extensions={extensions}
        onChange={onChange}
        aria-label="Text of the script"
      />
    </Box>
  );
}
