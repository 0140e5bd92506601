import { seeded } from '../random';

/** What the ground of a spot may be. */
export const GROUNDS = ['reeds', 'peat', 'water', 'planks', 'stone', 'moss'] as const;
export type Ground = (typeof GROUNDS)[number];

/** Size of a spot's picture in dots; a hexagon with a corner on top. */
export const GROUND_WIDTH = 84;
export const GROUND_HEIGHT = 97;

const BASE: Readonly<Record<Ground, string>> = {
  ...{ reeds: '#7d8a4e', peat: '#4b3a2e', water: '#3d6670' },
  ...{ planks: '#8c6a45', stone: '#7c8084', moss: '#5f7a4a' },
};

/** The picture of a ground as SVG, for a box of 84 by 97. */
export function groundDrawing(ground: Ground): string {
  const random = seeded(`ground ${ground}`);
  const at = (most: number): number => Math.round(random() * most * 10) / 10;
  const many = (count: number, one: () => string): string => Array.from({ length: count }, one).join('');
  const [w, h] = [GROUND_WIDTH, GROUND_HEIGHT];
  const inside: Readonly<Record<Ground, () => string>> = {
    reeds: () =>
      many(26, () => {
        const [x, y] = [at(w), at(h)];
        return `<path d="M${x} ${y}q${at(6) - 3} -9 ${at(8) - 4} -16" stroke="#c2c98a" stroke-width="1.4" fill="none"/>`;
      }),
    peat: () =>
      many(30, () => `<ellipse cx="${at(w)}" cy="${at(h)}" rx="${3 + at(5)}" ry="1.6" fill="#35281f"/>`),
    water: () =>
      many(14, () => {
        const [x, y] = [at(w), at(h)];
        return `<path d="M${x} ${y}q6 -4 12 0t12 0" stroke="#79a7ad" stroke-width="1.5" fill="none"/>`;
      }),
    planks: () =>
      Array.from(
        { length: 7 },
        (_, i) =>
          `<rect x="0" y="${i * 14}" width="${w}" height="12" fill="${i % 2 === 0 ? '#987449' : '#80603d'}"/><circle cx="${at(w)}" cy="${i * 14 + 6}" r="1.4" fill="#4a3622"/>`,
      ).join(''),
    stone: () =>
      many(
        16,
        () =>
          `<rect x="${at(w)}" y="${at(h)}" width="${8 + at(12)}" height="${6 + at(6)}" rx="3" fill="#8f9498" stroke="#62676b"/>`,
      ),
    moss: () => many(40, () => `<circle cx="${at(w)}" cy="${at(h)}" r="${1.5 + at(3)}" fill="#83a263"/>`),
  };
  const corners = `${w / 2},0 ${w},${h / 4} ${w},${(3 * h) / 4} ${w / 2},${h} 0,${(3 * h) / 4} 0,${h / 4}`;
  return `<defs><clipPath id="spot"><polygon points="${corners}"/></clipPath></defs><g clip-path="url(#spot)"><rect width="${w}" height="${h}" fill="${BASE[ground]}"/>${inside[ground]()}</g>`;
}
