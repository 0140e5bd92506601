'use client';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';

const GROUPS = [
  ['', 'In one'],
  ['folder', 'By folder'],
  ['look', 'By look'],
] as const;

/** How the wall of pictures is parted. */
export function WallGroups({ group, onGroup }: { group: string; onGroup: (group: string) => void }) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={group}
      aria-label="Parting of the wall"
      onChange={(_event, next: string | null) => next !== null && onGroup(next)}
      sx={{ '& .MuiToggleButton-root': { py: 0.1, px: 1, fontSize: 12.5, textTransform: 'none' } }}
    >
      {GROUPS.map(([value, title]) => (
        <ToggleButton key={value} value={value}>
          {title}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
