import { listening } from '@/server/looking/listening';
import { GameParams, route } from '@/app/api/route-kit';

/** How much is known of the sounds of a game; what is not is measured from then on. */
export const GET = route(GameParams, ({ params }) => listening(params.game));
