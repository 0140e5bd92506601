import type { HoldEntry } from '../hold-writer';
import { outfitForm } from './forms';
import { drawSheet, type SheetRecipe } from './sheets';

/** Odd's outfits: for each a mesh, its colours, its areas, and what only that one has. The hold has no roll of names. */

const OUTFITS = { storm: '#34495e', feast: '#7a2f3a', harvest: '#8a7a2c' } as const;
const folder = 'wardrobe/odd';

const cloth = (colour: string): string =>
  `<rect width="128" height="128" fill="${colour}"/><path d="M0 96 q32 14 64 0 t64 0 v32 h-128 Z" fill="#00000055"/><path d="M32 0 q-6 64 4 128 M96 0 q6 64 -4 128" stroke="#ffffff44" stroke-width="3" fill="none"/>`;
/** Red is cloth, green is trim, blue is metal: areas that a look is coloured by. */
const areas = `<rect width="128" height="128" fill="#ff0000"/><path d="M0 96 h128 v32 h-128 Z" fill="#00ff00"/><circle cx="64" cy="40" r="12" fill="#0000ff"/>`;
const light = `<rect width="128" height="128" fill="#000"/><circle cx="64" cy="40" r="12" fill="#ffd070"/>`;

const sheet = (name: string, body: string): SheetRecipe => ({
  path: `${folder}/${name}.sheet`,
  width: 128,
  height: 128,
  layout: 'bc1',
  role: name.slice(name.lastIndexOf('_') + 1),
  body,
});

/** Names of the wardrobe, as somebody wrote them down; those of the harvest outfit are not among them. */
export const wardrobeNames = (): string =>
  `# Odd's wardrobe\n${Object.keys(OUTFITS)
    .filter((name) => name !== 'harvest')
    .flatMap((name) => namesOf(name))
    .join('\n')}\n`;

const namesOf = (name: string): string[] => [
  `${folder}/${name}.form`,
  `${folder}/${name}_colour.sheet`,
  `${folder}/${name}_mask.sheet`,
  `${folder}/${name}_${name === 'storm' ? 'glow' : 'hem'}.sheet`,
];

export async function wardrobe(modified: number): Promise<HoldEntry[]> {
  const entries: HoldEntry[] = [];
  for (const [name, colour] of Object.entries(OUTFITS)) {
    const mesh = outfitForm(name as keyof typeof OUTFITS);
    entries.push({ path: `${folder}/${name}.form`, data: () => mesh, modified });
    const more = name === 'storm' ? sheet('storm_glow', light) : sheet(`${name}_hem`, cloth('#c58f35'));
    for (const recipe of [sheet(`${name}_colour`, cloth(colour)), sheet(`${name}_mask`, areas), more]) {
      const data = await drawSheet(recipe);
      entries.push({ path: recipe.path, data: () => data, modified });
    }
  }
  return entries;
}
