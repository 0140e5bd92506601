import { EntryParams, route } from '@/app/api/route-kit';
import { entryLinks } from '@/server/entries/links';

export const GET = route(EntryParams, ({ params }) => entryLinks(params.game, params.archive, params.index));
