'use client';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';

/** How entries that can be seen as a wall are shown. */
export function WallGroups({
  group,
  choices,
  onGroup,
}: {
  group: string;
  choices: readonly (readonly [word: string, title: string])[];
  onGroup: (group: string) => void;
}) {
  return (
    <ToggleButtonGroup
      exclusive
      size="small"
      value={choices.some(([word]) => word === group) ? group : choices[0]?.[0]}
      aria-label="How they are shown"
      onChange={(_event, next: string | null) => next !== null && onGroup(next)}
      sx={{ '& .MuiToggleButton-root': { py: 0.1, px: 1, fontSize: 12.5, textTransform: 'none' } }}
    >
      {choices.map(([word, title]) => (
        <ToggleButton key={word} value={word}>
          {title}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
