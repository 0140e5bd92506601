import { listTrials } from '@/server/running/trials';
import { GameParams, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params }) => listTrials(params.game));
