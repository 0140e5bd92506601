import { entryDetail } from '@/server/looking/preview';
import { EntryParams, route } from '@/app/api/route-kit';

export const GET = route(EntryParams, ({ params }) => entryDetail(params.game, params.archive, params.index));
