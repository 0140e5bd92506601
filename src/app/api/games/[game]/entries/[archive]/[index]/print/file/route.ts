import { z } from 'zod';
import { printDownload } from '@/server/looking/prints';
import { EntryParams, openedBy, route } from '@/app/api/route-kit';
import { PrintQuery } from '../query';

/** The pieces of a print: a 3MF of all, an STL, or a ZIP of several. */
export const GET = route(EntryParams, async ({ params, query }) => {
  const { settings, as } = query(PrintQuery.extend({ as: z.enum(['3mf', 'stl']).default('3mf') }));
  return printDownload(await openedBy(params), settings, as);
});
