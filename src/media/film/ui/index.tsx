import MovieOutlined from '@mui/icons-material/MovieOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';

// What shows one of them is fetched when one is shown.
const FilmLook = dynamic(() => import('./FilmLook').then((made) => made.FilmLook));
const FilmSide = dynamic(() => import('./FilmSide').then((made) => made.FilmSide));

/** Films on the screens. */
export const filmUi: MediumUi = {
  kind: 'film',
  title: 'Film',
  Icon: MovieOutlined,
  Look: FilmLook,
  Side: FilmSide,
};
