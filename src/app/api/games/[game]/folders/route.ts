import { findFolders } from '@/db';
import { GameParams, route } from '@/app/api/route-kit';

export const GET = route(GameParams, ({ params }) => findFolders(params.game));
