import { dropRecipe, recipeFile, startRecipe } from '@/server/recipes/recipes';
import { GameParams, Id, route, textFile } from '@/app/api/route-kit';

const Params = GameParams.extend({ recipe: Id });

/** The recipe as a file. */
export const GET = route(Params, async ({ params }) => {
  const { title, text } = await recipeFile(params.game, params.recipe);
  return textFile(`${title}.recipe.json`, text);
});
/** Runs it. */
export const POST = route(Params, ({ params }) => startRecipe(params.game, params.recipe));
export const DELETE = route(Params, ({ params }) => dropRecipe(params.game, params.recipe));
