import { GameParams, route } from '@/app/api/route-kit';
import { listPrograms } from '@/server/key-finder';

export const GET = route(GameParams, ({ params }) => listPrograms(params.game));
