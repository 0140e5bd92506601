import { ChangeParams, route } from '@/app/api/route-kit';
import { compareChange } from '@/server/looking/compare';

export const GET = route(ChangeParams, ({ params }) => compareChange(params.game, params.mod, params.change));
