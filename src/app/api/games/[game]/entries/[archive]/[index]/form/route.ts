import { entryForm } from '@/server/looking/forms';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';

/** A model, packed to be drawn. */
export const GET = route(EntryParams, async ({ params }) => entryForm(await openedBy(params)));
