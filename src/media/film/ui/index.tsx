import MovieOutlined from '@mui/icons-material/MovieOutlined';
import Box from '@mui/material/Box';
import type { MediumUi } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';

/** Films that a browser can play as they are. */
const PLAYED = /\.(mp4|m4v|webm|mkv|mov)$/i;

/** Films on the screens. */
export const filmUi: MediumUi = {
  kind: 'film',
  title: 'Film',
  Icon: MovieOutlined,
  canLook: ({ path }) => PLAYED.test(path),
  Look: ({ data, url, version }) => (
    <Box
      component="video"
      controls
      preload="metadata"
      src={`${url}/raw?${version}`}
      aria-label={`Film ${nameOf(data.path)}`}
      sx={{ width: '100%', borderRadius: 1, bgcolor: 'muteBack' }}
    />
  ),
};
