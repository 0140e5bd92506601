'use client';
import { yaml } from '@codemirror/lang-yaml';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { linter, lintGutter, type Diagnostic } from '@codemirror/lint';
import { tags } from '@lezer/highlight';
import Box from '@mui/material/Box';
import { useColorScheme, useTheme } from '@mui/material/styles';
import CodeMirror, { EditorView, type Extension } from '@uiw/react-codemirror';
import { useMemo } from 'react';
import type { ScriptCheck } from '@/server/opening/own-scripts';
import { api } from '../api';
import { MONO } from '../theme';

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
  const theme = useTheme();
  const { palette } = theme.vars ?? theme;
  const extensions = useMemo(
    () => [
      yaml(),
      lintGutter(),
      checking(onCheck),
      EditorView.contentAttributes.of({ 'aria-label': 'Text of the script' }),
      EditorView.theme({}, { dark: scheme === 'dark' }),
      syntaxHighlighting(
        HighlightStyle.define([
          { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: palette.primary.main },
          { tag: [tags.string, tags.special(tags.string)], color: palette.brass },
          { tag: tags.comment, color: palette.ink2, fontStyle: 'italic' },
        ]),
      ),
    ],
    [onCheck, scheme, palette],
  );
  return (
    <Box
      sx={(theme) => {
        const { palette } = theme.vars ?? theme;
        return {
          flex: 1,
          minHeight: 0,
          overflow: 'hidden',
          border: 1,
          borderColor: 'line',
          borderRadius: 1,
          '& .cm-theme, & .cm-theme-light, & .cm-theme-dark': { height: '100%' },
          // The editor's own styles are in no layer, so only what is important comes before them.
          '& .cm-editor': { height: '100%', backgroundColor: `${palette.background.paper} !important` },
          '& .cm-scroller': { fontFamily: `${MONO} !important`, fontSize: 13 },
          '& .cm-gutters': {
            backgroundColor: `${palette.panel} !important`,
            color: `${palette.ink2} !important`,
            borderColor: `${palette.line} !important`,
          },
          '& .cm-activeLine, & .cm-activeLineGutter': { backgroundColor: `${palette.tint} !important` },
        };
      }}
    >
      <CodeMirror
        value={text}
        height="100%"
        theme="none"
        readOnly={readOnly}
        extensions={extensions}
        onChange={onChange}
      />
    </Box>
  );
}
