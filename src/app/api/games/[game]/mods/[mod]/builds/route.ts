import { listBuilds } from '@/server/building/builds';
import { ModParams, route } from '@/app/api/route-kit';

export const GET = route(ModParams, ({ params }) => listBuilds(params.game, params.mod));
