import { GameParams, route } from '@/app/api/route-kit';
import { folderFindings } from '@/server/games/folder-findings';

export const GET = route(GameParams, ({ params }) => folderFindings(params.game));
