'use client';
import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { number } from '@/ui/format';
import { sheet } from '@/ui/kit/Screen';
import type { PieceFact } from '../../core/print';
import { sides } from './FindingsTable';

/** The pieces as they are printed, each with its size. */
export function PiecesTable({ pieces }: { readonly pieces: readonly PieceFact[] }) {
  return (
    <Box sx={{ ...sheet, maxHeight: 330, overflow: 'auto' }}>
      <Table size="small" stickyHeader aria-label="Pieces" sx={{ '& td, & th': { py: 0.5 } }}>
        <TableHead>
          <TableRow>
            <TableCell>Piece</TableCell>
            <TableCell>Size, mm</TableCell>
            <TableCell align="right">cm³</TableCell>
            <TableCell>Ready</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {pieces.map(({ name, size, volume, isWatertight, hasRoom }) => (
            <TableRow key={name}>
              <TableCell>{name}</TableCell>
              <TableCell>{sides(size)}</TableCell>
              <TableCell align="right">{isWatertight ? number(Math.round(volume / 10) / 100) : ''}</TableCell>
              <TableCell>
                {[
                  isWatertight ? 'watertight' : 'not closed',
                  ...(hasRoom ? [] : ['too large for the bed']),
                ].join(', ')}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}
