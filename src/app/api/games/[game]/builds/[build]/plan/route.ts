import { planInstall } from '@/server/installing/install';
import { GameParams, Id, route } from '@/app/api/route-kit';

/** What installing a build would do, file by file. */
export const GET = route(GameParams.extend({ build: Id }), ({ params }) =>
  planInstall(params.game, params.build),
);
