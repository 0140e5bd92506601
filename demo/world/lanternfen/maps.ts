import type { SheetRecipe } from './sheets';

/** Sheets of which each channel is something of its own: the heron's grey maps, and areas of the screens that the player's colours fill. */

/** Feathers as rows of overlapping leaves. */
function feathers(fill: (row: number, column: number) => string): string {
  const rows = Array.from({ length: 9 }, (_, row) =>
    Array.from({ length: 9 }, (_, column) => {
      const x = column * 32 - (row % 2) * 16;
      return `<path d="M${x} ${row * 30 - 8} q16 -6 32 0 q4 30 -16 44 q-20 -14 -16 -44 Z" fill="${fill(row, column)}"/>`;
    }).join(''),
  ).join('');
  return rows;
}

const grey = (value: number): number => Math.max(0, Math.min(255, Math.round(value)));

/** Red is the relief, green how wet it is, which the engine keeps turned over, and blue the shine. */
const maps = `<rect width="256" height="256" fill="#40d020"/>${feathers((row, column) => {
  const wet = grey(255 - row * 26);
  return `rgb(${grey(90 + ((row * 37 + column * 61) % 120))},${255 - wet},${grey(40 + row * 20)})`;
})}`;

const plumage = `<rect width="256" height="256" fill="#4a5a66"/>${feathers((row, column) => ['#5d7080', '#6f8494', '#526472', '#8299a8'][(row * 3 + column) % 4]!)}`;

/** Areas of a frame: red the ground, green the rim, blue the ornament; alpha is where it is at all. */
const panel = `<path d="M8 8 h112 v112 h-112 Z" fill="#ff0000"/><path d="M8 8 h112 v112 h-112 Z" fill="none" stroke="#00ff00" stroke-width="10"/><path d="M64 20 l12 22 l-12 22 l-12 -22 Z M64 64 l12 22 l-12 22 l-12 -22 Z" fill="#0000ff"/>`;
const button = `<rect x="4" y="36" width="120" height="56" rx="28" fill="#ff0000"/><rect x="8" y="40" width="112" height="48" rx="24" fill="none" stroke="#00ff00" stroke-width="6"/><circle cx="30" cy="64" r="10" fill="#0000ff"/>`;

export const PLUMAGE = 'actors/bog_heron/plumage/plumage_colour.sheet';
export const PLUMAGE_MAPS = 'actors/bog_heron/plumage/plumage_maps.sheet';
export const PANEL_MASK = 'screens/frames/panel_mask.sheet';

export const mapSheets = (): SheetRecipe[] => [
  { path: PLUMAGE, width: 256, height: 256, layout: 'bc1', role: 'colour', body: plumage },
  { path: PLUMAGE_MAPS, width: 256, height: 256, layout: 'rgba8', role: 'maps', body: maps },
  { path: PANEL_MASK, width: 128, height: 128, layout: 'rgba8', role: 'mask', body: panel },
  {
    path: 'screens/frames/button_mask.sheet',
    width: 128,
    height: 128,
    layout: 'rgba8',
    role: 'mask',
    body: button,
  },
];
