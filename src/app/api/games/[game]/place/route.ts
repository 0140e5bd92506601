import { GameParams, route } from '@/app/api/route-kit';
import { defaultFolder } from '@/server/recipes/output-folder';

/** The folder that is offered for what is taken out of a game. */
export const GET = route(GameParams, async ({ params }) => ({ folder: await defaultFolder(params.game) }));
