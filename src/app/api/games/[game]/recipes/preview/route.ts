import { z } from 'zod';
import { Recipe } from '@/core/recipe';
import { previewRecipe } from '@/server/recipes/recipes';
import { GameParams, route } from '@/app/api/route-kit';

export const POST = route(GameParams, async ({ params, body }) =>
  previewRecipe(params.game, (await body(z.object({ recipe: Recipe }))).recipe),
);
