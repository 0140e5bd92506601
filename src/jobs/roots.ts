import fs from 'node:fs';
import path from 'node:path';
import { Recipe } from '@/core/recipe';
import { GameRow, RecipeRow, type JobRow } from '@/db';

/** A folder that a job needs and that is not there for this process; undefined where all are. */
export async function unseenRoot({ gameId, input }: JobRow): Promise<string | undefined> {
  if (gameId === null) return undefined;
  const game = await GameRow.findByPk(gameId, { attributes: ['folder'] });
  const roots = game ? [game.folder] : [];
  const { recipeId, folder } = input as { recipeId?: number; folder?: string };
  const recipe = recipeId === undefined ? null : await RecipeRow.findByPk(recipeId);
  const target = recipe ? Recipe.parse(recipe.recipe).folder : folder;
  if (target !== undefined) roots.push(path.dirname(path.resolve(target)));
  return roots.find((root) => !fs.existsSync(root));
}
