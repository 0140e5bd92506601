import { z } from 'zod';
import { dropPickList, pickListDetail, pickListText } from '@/server/recipes/pick-lists';
import { GameParams, Id, route, textFile } from '@/app/api/route-kit';

const Params = GameParams.extend({ list: Id });
const Query = z.object({ as: z.enum(['entries', 'text']).default('entries') });

export const GET = route(Params, async ({ params, query }) => {
  if (query(Query).as === 'entries') return pickListDetail(params.game, params.list);
  const { title, text } = await pickListText(params.game, params.list);
  return textFile(`${title}.txt`, text);
});
export const DELETE = route(Params, ({ params }) => dropPickList(params.game, params.list));
