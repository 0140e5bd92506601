import { toBuild } from '@/server/building/builds';
import { ModParams, route } from '@/app/api/route-kit';

export const GET = route(ModParams, ({ params }) => toBuild(params.game, params.mod));
