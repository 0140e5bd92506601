'use client';
import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';
import Box from '@mui/material/Box';
import type { WallProps } from '@/media/medium-ui';
import { MediaWall, type FaceProps, type MediaWallProps } from '@/ui/contents/MediaWall';
import { nameOf } from '@/ui/format';
import { usePortrait } from './use-portrait';

/** Models as small pictures, each drawn once. */
export const Wall = (props: WallProps) => (
  <MediaWall {...props} Face={Portrait} noun="model" corner={finest} />
);

const finest: MediaWallProps['corner'] = (_head, { measured }) =>
  measured?.found.includes('finest')
    ? ['finest', 'It has the most triangles of several that are alike in name']
    : undefined;

function Portrait({ gameId, item }: FaceProps) {
  const { data, error } = usePortrait(gameId, item);
  if (data !== undefined)
    return (
      <img
        src={data}
        alt={nameOf(item.path)}
        style={{ width: '100%', height: '100%', objectFit: 'contain' }}
      />
    );
  return (
    <Box sx={{ textAlign: 'center', color: 'ink2', fontSize: 12, p: 1, overflow: 'hidden' }}>
      <ViewInArOutlined sx={{ opacity: 0.5 }} />
      <Box title={error?.message} sx={{ overflowWrap: 'anywhere' }}>
        {error ? error.message : 'Being drawn'}
      </Box>
    </Box>
  );
}
