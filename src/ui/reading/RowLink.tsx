import Box from '@mui/material/Box';
import type { RowRef } from '@/server/reading/reading-view';

/** A row that is meant, by what it is called; a press goes to it. */
export function RowLink({ to, onGo }: { to: RowRef; onGo: (table: string, row: number) => void }) {
  return (
    <Box
      component="button"
      type="button"
      title={`${to.table}, row ${to.row + 1}`}
      onClick={(event) => {
        event.stopPropagation();
        onGo(to.table, to.row);
      }}
      sx={{
        ...{ all: 'unset', cursor: 'pointer', color: 'brass', overflowWrap: 'anywhere' },
        ...{ textDecoration: 'underline', textUnderlineOffset: '2px' },
        '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
      }}
    >
      {to.title}
    </Box>
  );
}
