import { GameParams, route } from '@/app/api/route-kit';
import { contentsMap } from '@/server/entries/contents-map';

export const GET = route(GameParams, ({ params }) => contentsMap(params.game));
