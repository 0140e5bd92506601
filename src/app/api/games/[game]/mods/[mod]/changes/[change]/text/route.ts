import { changedText } from '@/server/mods/changed-text';
import { ChangeParams, route } from '@/app/api/route-kit';

export const GET = route(ChangeParams, ({ params }) => changedText(params.game, params.mod, params.change));
