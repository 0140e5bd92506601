import { checkPattern, Recipe, RecipeFile } from '@/core/recipe';
import { JobRow, models, RecipeRow } from '@/db';
import { checkOutputFolder } from './output-folder';
import { enqueue, JOB_INPUTS, viewOf, type JobView } from '../running/jobs';
import { notFound, UserError } from '@/platform/user-error';
import { planRun } from './plan';

export interface RecipeView {
  readonly id: number;
  readonly recipe: Recipe;
  /** The last run that was asked for. */
  readonly lastRun: JobView | undefined;
}

export interface Preview {
  readonly count: number;
  readonly bytes: number;
  readonly missing: readonly string[];
  /** The first files, and those whose name was changed. */
  readonly files: readonly { path: string; file: string }[];
  readonly renamed: readonly { path: string; wanted: string; file: string }[];
  readonly renamedCount: number;
}

const SHOWN = 60;

export async function recipeRow(gameId: number, id: number): Promise<RecipeRow> {
  models();
  const row = await RecipeRow.findOne({ where: { id, gameId } });
  if (!row) throw notFound('The recipe');
  return row;
}

function checked(recipe: Recipe): Recipe {
  if (recipe.name.how === 'pattern') checkPattern(recipe.name.pattern);
  return recipe;
}

export async function listRecipes(gameId: number): Promise<RecipeView[]> {
  models();
  const rows = await RecipeRow.findAll({ where: { gameId }, order: [['title', 'ASC']] });
  const jobs = await JobRow.findAll({
    where: { gameId, kind: 'run-recipe' },
    order: [['number', 'DESC']],
    limit: 500,
  });
  return rows.map(({ id, recipe }) => {
    const last = jobs.find(({ input }) => (input as { recipeId?: number }).recipeId === id);
    return { id, recipe: Recipe.parse(recipe), lastRun: last && viewOf(last) };
  });
}

export async function keepRecipe(gameId: number, recipe: Recipe, id?: number): Promise<{ id: number }> {
  models();
  const { title } = checked(recipe);
  await checkOutputFolder(recipe.folder);
  if (id === undefined) return { id: (await RecipeRow.create({ gameId, title, recipe })).id };
  await (await recipeRow(gameId, id)).update({ title, recipe });
  return { id };
}

export async function dropRecipe(gameId: number, id: number): Promise<void> {
  models();
  await RecipeRow.destroy({ where: { id, gameId } });
}

/** A recipe as a file that can be given to others. */
export async function recipeFile(gameId: number, id: number): Promise<{ title: string; text: string }> {
  const { title, recipe } = await recipeRow(gameId, id);
  return { title, text: `${JSON.stringify({ 'zero latch recipe': 1, recipe }, null, 2)}\n` };
}

/** Takes a recipe out of a file; the folder may be one of another machine, so it is not looked at yet. */
export async function importRecipe(gameId: number, text: string): Promise<{ id: number }> {
  models();
  let read: unknown;
  try {
    read = JSON.parse(text);
  } catch (error) {
    throw new UserError(422, `This is no recipe: it is no JSON (${(error as Error).message}).`);
  }
  const parsed = RecipeFile.safeParse(read);
  if (!parsed.success) {
    const [first] = parsed.error.issues;
    throw new UserError(422, `This is no recipe: ${first!.path.join('.') || 'the file'}: ${first!.message}.`);
  }
  const { recipe } = parsed.data;
  return { id: (await RecipeRow.create({ gameId, title: recipe.title, recipe: checked(recipe) })).id };
}

/** What a recipe would write now, without writing anything. */
export async function previewRecipe(gameId: number, recipe: Recipe): Promise<Preview> {
  const { files, missing } = await planRun(gameId, checked(recipe));
  const renamed = files.filter(({ file, wanted }) => file !== wanted);
  return {
    count: files.length,
    bytes: files.reduce((sum, { record }) => sum + record.size, 0),
    missing: missing.slice(0, SHOWN),
    files: files.slice(0, SHOWN).map(({ record, file }) => ({ path: record.path, file })),
    renamed: renamed.slice(0, SHOWN).map(({ record, wanted, file }) => ({ path: record.path, wanted, file })),
    renamedCount: renamed.length,
  };
}

export async function startRecipe(gameId: number, id: number, retryOf?: string): Promise<JobView> {
  const { title, recipe } = await recipeRow(gameId, id);
  await checkOutputFolder(Recipe.parse(recipe).folder);
  return enqueue('run-recipe', title, { gameId, recipeId: id, ...(retryOf && { retryOf }) });
}

/** Runs an ended extraction once more, of all its entries or of those alone that failed; what was written is left alone. */
export async function runAgain(jobId: string, isFailedOnly: boolean): Promise<JobView> {
  models();
  const job = await JobRow.findByPk(jobId);
  const retryOf = isFailedOnly ? jobId : undefined;
  const recipe = JOB_INPUTS['run-recipe'].safeParse(job?.input);
  if (job?.kind === 'run-recipe' && recipe.success)
    return startRecipe(recipe.data.gameId, recipe.data.recipeId, retryOf);
  const plain = JOB_INPUTS.extract.safeParse(job?.input);
  if (job?.kind !== 'extract' || !plain.success)
    throw new UserError(409, 'Only an extraction can be run again.');
  return enqueue('extract', job.title, { ...plain.data, retryOf });
}
