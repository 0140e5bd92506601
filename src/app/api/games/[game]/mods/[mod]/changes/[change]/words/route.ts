import { ChangeParams, route } from '@/app/api/route-kit';
import { changeInWords } from '@/server/reading/change-words';

/** What a change of a table says differently, in words; no tables where it is none. */
export const GET = route(ChangeParams, async ({ params }) => ({
  tables: (await changeInWords(params.game, params.mod, params.change)) ?? [],
}));
