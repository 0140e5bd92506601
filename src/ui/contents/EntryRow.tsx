import Box from '@mui/material/Box';
import { folderOf, nameOf } from '../format';

/** An entry as a row of a list beside another one: its name, then its folder. */
export function EntryRow({ path, title, onShow }: { path: string; title: string; onShow: () => void }) {
  return (
    <Box
      component="button"
      title={title}
      onClick={onShow}
      className="mono"
      sx={{
        all: 'unset',
        boxSizing: 'border-box',
        width: '100%',
        display: 'block',
        py: 0.3,
        cursor: 'pointer',
        overflow: 'hidden',
        textOverflow: 'ellipsis',
        whiteSpace: 'nowrap',
        '&:hover, &:focus-visible': { bgcolor: 'tint' },
      }}
    >
      {nameOf(path)}{' '}
      <Box component="span" sx={{ color: 'ink2', fontSize: 11.5 }}>
        {folderOf(path)}
      </Box>
    </Box>
  );
}
