'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { LookProps } from '@/media/medium-ui';
import { MONO } from '@/ui/theme';
import { keepText, useKeptText } from '@/ui/kept-text';
import { useFontFace } from './use-font-face';

const KEPT = 'font-sample';
const SAMPLE = 'Two coins, or one good story.';
/** So many signs stand in the table before more are asked for. */
const FIRST_SHOWN = 400;

/** The signs of a font, and a text of one's choice in it: drawn with it where the browser can, else by what it has and how wide that is. */
export function FontLook({ url, version, data, changed }: LookProps) {
  const { look } = data;
  const sample = useKeptText(KEPT) ?? SAMPLE;
  const [isAll, setAll] = useState(false);
  const isOpen = look.sort === 'font' && OPEN.has(look.form);
  const family = useFontFace(url, version, isOpen && !changed);
  if (look.sort !== 'font') return null;
  // What is known here is of the font as the game has it.
  if (changed)
    return (
      <Box sx={{ color: 'ink2' }}>
        The font as the mod has it is not drawn here; texts on the desk are held against it.
      </Box>
    );
  const widths = new Map(look.first);
  const missing = [...new Set([...sample].filter((sign) => sign > ' ' && !widths.has(sign.codePointAt(0)!)))];
  const isWhole = widths.size === look.signs;
  const width = [...sample].reduce((sum, sign) => sum + (widths.get(sign.codePointAt(0)!) ?? 0), 0);
  return (
    <Box>
      <TextField
        size="small"
        fullWidth
        label="A text in this font"
        value={sample}
        onChange={({ target }) => keepText(KEPT, target.value)}
      />
      {family && (
        <Box
          aria-label="Drawn with this font"
          sx={{ fontFamily: family, fontSize: 28, my: 1, overflowWrap: 'anywhere' }}
        >
          {sample}
        </Box>
      )}
      <Typography
        variant="body2"
        role="status"
        sx={{ my: 1, color: missing.length > 0 && isWhole ? 'look' : 'text.secondary' }}
      >
        {missing.length === 0
          ? `${width} units wide, without kerning`
          : isWhole
            ? `The font has no ${missing.join(' ')}`
            : `Not among the first ${look.first.length} of ${look.signs} signs, which are known here: ${missing.join(' ')}`}
      </Typography>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(34px, 1fr))',
          gap: '2px',
          maxHeight: 260,
          overflow: 'auto',
        }}
      >
        {look.first.slice(0, isAll ? look.first.length : FIRST_SHOWN).map(([code, wide]) => (
          <Box
            key={code}
            title={`U+${code.toString(16).toUpperCase().padStart(4, '0')}, ${wide} wide`}
            sx={{
              ...{
                border: 1,
                borderColor: 'line',
                borderRadius: '3px',
                textAlign: 'center',
                lineHeight: '30px',
              },
              ...{ fontSize: 18, fontFamily: family ?? MONO },
            }}
          >
            {code >= 0x20 ? String.fromCodePoint(code) : ''}
          </Box>
        ))}
      </Box>
      {!isAll && look.first.length > FIRST_SHOWN && (
        <Button onClick={() => setAll(true)}>Show all {look.first.length}</Button>
      )}
    </Box>
  );
}

const OPEN = new Set(['TTF', 'OTF', 'WOFF', 'WOFF2']);
