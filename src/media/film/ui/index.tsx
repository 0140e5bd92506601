import MovieOutlined from '@mui/icons-material/MovieOutlined';
import type { MediumUi } from '@/media/medium-ui';
import { FilmLook } from './FilmLook';
import { FilmSide } from './FilmSide';

/** Films on the screens. */
export const filmUi: MediumUi = {
  kind: 'film',
  title: 'Film',
  Icon: MovieOutlined,
  Look: FilmLook,
  Side: FilmSide,
};
