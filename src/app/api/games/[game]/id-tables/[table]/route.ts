import { GameParams, Id, route } from '@/app/api/route-kit';
import { removeIdTable } from '@/server/entries/id-tables';

export const DELETE = route(GameParams.extend({ table: Id }), ({ params }) =>
  removeIdTable(params.game, params.table),
);
