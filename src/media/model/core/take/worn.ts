import type { Material } from '../form/form';

/** What stands for the colours of a material that names no picture of them, until one is put on. */
const UNNAMED = '#';
export const isUnnamed = (path: string): boolean => path.startsWith(UNNAMED);

/** The same with colours for every material: of one that names none, by its number. */
export const withColours = <F extends { readonly materials: readonly Material[] }>(form: F): F => ({
  ...form,
  materials: form.materials.map((material, i) => ({
    ...material,
    pictures: { ...material.pictures, colour: material.pictures.colour ?? `${UNNAMED}${i}` },
  })),
});
