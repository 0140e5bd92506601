import { issueRecipeTicket } from '@/server/recipes/extraction';
import { GameParams, Id, route } from '@/app/api/route-kit';

/** What the recipe picks now as a ZIP; the answer has the ticket to fetch it by. */
export const POST = route(GameParams.extend({ recipe: Id }), async ({ params }) => ({
  ticket: await issueRecipeTicket(params.game, params.recipe),
}));
