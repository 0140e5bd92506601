import { z } from 'zod';
import { Recipe } from '@/core/recipe';
import { importRecipe, keepRecipe, listRecipes } from '@/server/recipes/recipes';
import { GameParams, route } from '@/app/api/route-kit';

const Given = z.union([
  z.object({ recipe: Recipe, id: z.int().positive().optional() }),
  z.object({ file: z.string().max(30_000_000) }),
]);

export const GET = route(GameParams, ({ params }) => listRecipes(params.game));
export const POST = route(GameParams, async ({ params, body }) => {
  const given = await body(Given);
  return 'file' in given
    ? importRecipe(params.game, given.file)
    : keepRecipe(params.game, given.recipe, given.id);
});
