import { GameParams, route } from '@/app/api/route-kit';
import { listPrograms } from '@/server/opening/key-finder';

export const GET = route(GameParams, ({ params }) => listPrograms(params.game));
