import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import fs from 'node:fs';
import path from 'node:path';
import { Recipe } from '@/core/recipe';
import type { GameView } from '../games/games';
import { TestBed } from '../testing/bed';
import { issueRecipeTicket, issueTicket, zipOf } from './extraction';
import { dropRecipe, importRecipe, keepRecipe, listRecipes, previewRecipe, recipeFile } from './recipes';

const bed = new TestBed();
let game: GameView;
beforeAll(async () => {
  await bed.begin();
  game = await bed.game('recipes', {
    'a.zip': {
      'text/odd.json': '{"line":"Odd says nothing."}',
      'text/ibis.txt': 'Ibis waits.',
      'data/ibis.txt': 'A namesake.',
    },
    'b.zip': { 'text/ibis.txt': 'Ibis of the later archive.' },
  });
});
afterAll(() => bed.end());

const recipeOf = (part: object): Recipe =>
  Recipe.parse({ title: 'Texts', pick: { search: '' }, folder: path.join(bed.folder, 'out'), ...part });

/** What is in a download, read by the ordinary program. */
async function unpacked(ticket: string): Promise<Record<string, string>> {
  const file = path.join(bed.folder, `${Math.random()}.zip`);
  const parts: Buffer[] = [];
  for await (const part of zipOf(ticket)) parts.push(part as Buffer);
  fs.writeFileSync(file, Buffer.concat(parts));
  const names = execFileSync('unzip', ['-Z1', file], { encoding: 'utf8' }).trim().split('\n');
  return Object.fromEntries(
    names.map((name) => [name, execFileSync('unzip', ['-p', file, name], { encoding: 'utf8' })]),
  );
}

describe('a recipe', () => {
  test('shows what it would write, with names that would meet told apart', async () => {
    const flat = await previewRecipe(game.id, recipeOf({ name: { how: 'flat' } }));
    expect(flat.files.map(({ path: from }) => from).sort()).toEqual([
      'data/ibis.txt',
      'text/ibis.txt',
      'text/odd.json',
    ]);
    expect(new Set(flat.files.map(({ file }) => file.toLowerCase())).size).toBe(3);
    expect(flat.renamedCount).toBe(1);
    const listed = await previewRecipe(
      game.id,
      recipeOf({ pick: { paths: ['text/ibis.txt', 'text/none.txt'] } }),
    );
    expect([listed.count, listed.missing]).toEqual([1, ['text/none.txt']]);
  });

  test('is downloaded as it says: the archive that answers, texts in lines', async () => {
    const { id } = await keepRecipe(game.id, recipeOf({ convert: { text: 'pretty' } }));
    expect(await unpacked(await issueRecipeTicket(game.id, id))).toEqual({
      'data/ibis.txt': 'A namesake.',
      'text/ibis.txt': 'Ibis of the later archive.',
      'text/odd.json': '{\n  "line": "Odd says nothing."\n}\n',
    });
    const picked = await bed.entry(game, 'data/ibis.txt');
    expect(await unpacked(issueTicket(game.id, [picked], {}))).toEqual({ 'data/ibis.txt': 'A namesake.' });
    expect(() => zipOf('00000000-0000-4000-8000-000000000000')).toThrow(/expired/);
  });

  test('travels as a file, is kept under its number, and is refused where it cannot be', async () => {
    const { id } = await keepRecipe(
      game.id,
      recipeOf({ title: 'Mine', name: { how: 'pattern', pattern: '{stem}{ending}' } }),
    );
    const { text } = await recipeFile(game.id, id);
    const copy = await importRecipe(game.id, text);
    const all = await listRecipes(game.id);
    const [mine, other] = [id, copy.id].map((one) => all.find((row) => row.id === one)!.recipe);
    expect(other).toEqual(mine);
    await keepRecipe(game.id, recipeOf({ title: 'Renamed' }), id);
    await dropRecipe(game.id, copy.id);
    expect((await listRecipes(game.id)).map(({ recipe }) => recipe.title)).toEqual(
      expect.arrayContaining(['Renamed']),
    );
    expect((await listRecipes(game.id)).some((row) => row.id === copy.id)).toBe(false);
    await expect(importRecipe(game.id, '{')).rejects.toThrow(/no JSON/);
    await expect(importRecipe(game.id, '{"recipe":{}}')).rejects.toThrow(/no recipe/);
    await expect(
      keepRecipe(game.id, recipeOf({ name: { how: 'pattern', pattern: '{nothing}' } })),
    ).rejects.toThrow(/nothing/);
    await expect(keepRecipe(game.id, recipeOf({ folder: game.folder }))).rejects.toThrow(
      /Only the installer writes there/,
    );
  });
});
