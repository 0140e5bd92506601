import { entryDetail } from '@/server/looking/preview';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

export const GET = route(EntryParams, async ({ params }) => entryDetail(await openedBy(params)));
