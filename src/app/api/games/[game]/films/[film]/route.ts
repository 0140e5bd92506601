import { FilmParams } from '@/app/api/film-params';
import { route } from '@/app/api/route-kit';
import { filmView } from '@/server/films/film-view';

export const GET = route(FilmParams, ({ params }) => filmView(params.game, params.film));
