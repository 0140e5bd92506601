import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { AlikeResult } from '@/server/looking/looks';
import { nameOf } from '../format';
import { checker } from '../kit/checker';

/** Pictures that look like the one that is looked at, the nearest first. */
export function AlikePictures({
  gameId,
  found,
  onShow,
}: {
  gameId: number;
  found: AlikeResult;
  onShow: (archiveId: number, index: number) => void;
}) {
  return (
    <Box component="section" aria-label="Pictures that look alike" sx={{ mt: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Look alike
      </Typography>
      <Box sx={{ color: 'ink2', fontSize: 12.5, mb: 0.75 }}>{found.detail}</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, minmax(0, 1fr))', gap: 0.75 }}>
        {found.alike.map(({ archiveId, index, path }) => (
          <Box
            key={`${archiveId}:${index}`}
            component="button"
            title={path}
            onClick={() => onShow(archiveId, index)}
            sx={{
              all: 'unset',
              cursor: 'pointer',
              border: 1,
              borderColor: 'line',
              borderRadius: 0.5,
              overflow: 'hidden',
              '&:hover, &:focus-visible': { borderColor: 'brass' },
            }}
          >
            <img
              src={`/api/games/${gameId}/entries/${archiveId}/${index}/picture?most=256`}
              alt={nameOf(path)}
              style={{ display: 'block', width: '100%', height: 56, objectFit: 'contain', ...checker }}
            />
          </Box>
        ))}
      </Box>
    </Box>
  );
}
