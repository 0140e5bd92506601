import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import KeyboardArrowDownRounded from '@mui/icons-material/KeyboardArrowDownRounded';
import KeyboardArrowUpRounded from '@mui/icons-material/KeyboardArrowUpRounded';
import TableCell from '@mui/material/TableCell';
import TableRow from '@mui/material/TableRow';
import Tooltip from '@mui/material/Tooltip';
import { memo, type ReactNode } from 'react';
import type { ArchiveView } from '@/server/games/archives';
import { bytes, number } from '../format';
import { StateMark } from '../kit/StateMark';
import { ARCHIVE_TONES } from './tones';

interface ArchiveRowProps {
  archive: ArchiveView;
  /** How many archives it lies in. */
  depth: number;
  isChosen: boolean;
  /** Of those that can be moved. */
  isFirst: boolean;
  isLast: boolean;
  onChoose: (id: number) => void;
  onMove: (move: { archiveId: number; towards: 'first' | 'last' }) => void;
}

/** One archive in load order. There may be hundreds, so that a row is drawn again only when it has changed. */
export const ArchiveRow = memo(function ArchiveRow({
  archive,
  depth,
  isChosen,
  isFirst,
  isLast,
  onChoose,
  onMove,
}: ArchiveRowProps) {
  const { id, path, sort, entries, named, state } = archive;
  return (
    <TableRow
      hover
      tabIndex={0}
      selected={isChosen}
      onClick={() => onChoose(id)}
      onKeyDown={(event) => event.key === 'Enter' && onChoose(id)}
      sx={{ cursor: 'pointer' }}
    >
      <TableCell
        className="mono"
        sx={{ overflowWrap: 'anywhere', minWidth: 150, pl: 2 + 2 * depth }}
        title={path}
      >
        {sort === 'loose' ? 'Loose files' : path.split('//').pop()}
      </TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        {bytes(archive.size)}
      </TableCell>
      <TableCell>{archive.scriptTitle}</TableCell>
      <TableCell>
        <StateMark tone={ARCHIVE_TONES[state]}>{state}</StateMark>
      </TableCell>
      <TableCell sx={{ color: 'ink2', maxWidth: 260 }}>
        <Box
          sx={{
            display: '-webkit-box',
            WebkitLineClamp: 2,
            WebkitBoxOrient: 'vertical',
            overflow: 'hidden',
          }}
        >
          {archive.reason}
        </Box>
      </TableCell>
      <TableCell align="right">{state === 'open' ? number(entries) : '-'}</TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        {entries > 0 && sort !== 'loose' ? `${Math.floor((100 * named) / entries)} %` : '-'}
      </TableCell>
      <TableCell sx={{ whiteSpace: 'nowrap', px: 0.5 }}>
        <MoveButton
          title="Load earlier"
          label={`Load ${path} earlier`}
          disabled={depth > 0 || isFirst}
          onMove={() => onMove({ archiveId: id, towards: 'first' })}
        >
          <KeyboardArrowUpRounded fontSize="inherit" />
        </MoveButton>
        <MoveButton
          title="Load later; later archives override"
          label={`Load ${path} later`}
          disabled={depth > 0 || isLast}
          onMove={() => onMove({ archiveId: id, towards: 'last' })}
        >
          <KeyboardArrowDownRounded fontSize="inherit" />
        </MoveButton>
      </TableCell>
    </TableRow>
  );
});

function MoveButton({
  title,
  label,
  disabled,
  onMove,
  children,
}: {
  title: string;
  label: string;
  disabled: boolean;
  onMove: () => void;
  children: ReactNode;
}) {
  return (
    <Tooltip title={title}>
      <span>
        <IconButton
          size="small"
          aria-label={label}
          disabled={disabled}
          onClick={(event) => {
            event.stopPropagation();
            onMove();
          }}
        >
          {children}
        </IconButton>
      </span>
    </Tooltip>
  );
}
