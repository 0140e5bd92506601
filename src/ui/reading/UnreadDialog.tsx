'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { nameOf, number, plural } from '../format';
import { Failed, Loading } from '../kit/Blank';
import { RowLink } from './RowLink';
import { useUnread } from './use-reading';

const sure = (share: number): string => `${Math.floor(share * 100)} % sure`;

/** Rows and fields that nothing names, and values that lead nowhere. */
export function UnreadDialog({
  gameId,
  onGo,
  onClose,
}: {
  gameId: number;
  onGo: (table: string, row: number) => void;
  onClose: () => void;
}) {
  const { data, error } = useUnread(gameId);
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>What nothing names</DialogTitle>
      <DialogContent>
        {error && <Failed error={error} />}
        {!data && !error && <Loading what="Looking through all rows" />}
        {data && (
          <>
            <Part
              title="Rows"
              about="Tables whose other rows are mostly named. A program may still read a row by itself; how sure it is follows from how many of the others are named."
            >
              {data.rows.map(({ table, count, read, sureness, rows }) => (
                <Box key={table} sx={{ mb: 1.25 }}>
                  <Box sx={{ fontSize: 13, color: 'ink2' }}>
                    {nameOf(table)}: {plural(count, 'row')}, {number(read)} others are named, {sure(sureness)}
                  </Box>
                  {rows.map((row) => (
                    <Box key={row.row} component="span" sx={{ mr: 1.5, fontSize: 14 }}>
                      <RowLink to={row} onGo={onGo} />
                    </Box>
                  ))}
                </Box>
              ))}
              {data.rows.length === 0 && <None>Every row of these tables is named.</None>}
            </Part>
            <Part title="Fields" about="Nothing can be told apart by them.">
              {data.fields.map(({ table, field, why, value, rows, sureness }) => (
                <Box key={`${table} ${field}`} sx={{ fontSize: 14 }}>
                  <b>{field}</b> of {nameOf(table)}: {why}
                  {value !== '' && ` (${value.length > 40 ? `${value.slice(0, 40)} …` : value})`},{' '}
                  {plural(rows, 'row')}, {sure(sureness)}
                </Box>
              ))}
              {data.fields.length === 0 && <None>Every field says something.</None>}
            </Part>
            <Part title="Leading nowhere" about="Values of fields that mean rows, which no row has.">
              {data.nowhere.map((one, i) => (
                <Box key={i} sx={{ fontSize: 14 }}>
                  <RowLink to={one} onGo={onGo} />
                  <Box component="span" sx={{ color: 'ink2' }}>
                    : {one.field} {one.value} is none of {nameOf(one.to)}
                  </Box>
                </Box>
              ))}
              {data.nowhere.length === 0 && <None>All of them lead to a row.</None>}
            </Part>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Part({ title, about, children }: { title: string; about: string; children: React.ReactNode }) {
  return (
    <Box component="section" aria-label={title} sx={{ mb: 2.5 }}>
      <Typography variant="h3" sx={{ fontSize: 14, fontWeight: 700 }}>
        {title}
      </Typography>
      <Box sx={{ color: 'ink2', fontSize: 12.5, mb: 0.75 }}>{about}</Box>
      {children}
    </Box>
  );
}

const None = ({ children }: { children: string }) => <Box sx={{ fontSize: 14 }}>{children}</Box>;
