import BlockRounded from '@mui/icons-material/BlockRounded';
import CheckRounded from '@mui/icons-material/CheckRounded';
import LockOutlined from '@mui/icons-material/LockOutlined';
import PriorityHighRounded from '@mui/icons-material/PriorityHighRounded';
import RemoveRounded from '@mui/icons-material/RemoveRounded';
import Box from '@mui/material/Box';

export type Tone = 'good' | 'look' | 'bad' | 'mute' | 'lock';

const ICONS = {
  good: CheckRounded,
  look: PriorityHighRounded,
  bad: BlockRounded,
  mute: RemoveRounded,
  lock: LockOutlined,
};

/** A state: always an icon, a word and a colour together. */
export function StateMark({ tone, children }: { tone: Tone; children: string }) {
  const Icon = ICONS[tone];
  const colour = tone === 'lock' ? 'mute' : tone;
  return (
    <Box
      component="span"
      sx={{
        display: 'inline-flex',
        justifySelf: 'start',
        alignItems: 'center',
        gap: 0.5,
        px: 0.9,
        py: 0.2,
        borderRadius: 1,
        fontSize: 12.5,
        fontWeight: 600,
        whiteSpace: 'nowrap',
        color: `${colour}`,
        bgcolor: `${colour}Back`,
      }}
    >
      <Icon sx={{ fontSize: 14 }} aria-hidden />
      {children}
    </Box>
  );
}
