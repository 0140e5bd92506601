import type { HoldEntry } from '../hold-writer';
import { amendedGaits, heronGaits } from '../forms/gaits';
import { writeForm, type FormParts } from '../forms/form-writer';
import { writeGaits } from '../forms/gait-writer';
import { heron } from '../forms/heron';
import { lantern } from '../forms/lantern';
import { blouse, otter, outfit, person } from '../forms/people';
import { boathook, jetty } from '../forms/props';
import type { SheetRecipe } from './sheets';

/** Forms of Lanternfen with what they are painted with, and how the heron moves. */

const sheet = (path: string, layout: SheetRecipe['layout'], body: string, side = 256): SheetRecipe => ({
  ...{ path, width: side, height: side, layout, body },
  role: /_([a-z]+)\.sheet$/.exec(path)?.[1] ?? 'colour',
});

const rows = (count: number, row: (i: number) => string): string =>
  Array.from({ length: count }, (_, i) => row(i)).join('');

const plumage = (base: string, edge: string, light: string): string =>
  `<rect width="256" height="256" fill="${base}"/>${rows(16, (y) =>
    rows(17, (x) => {
      const [cx, cy] = [x * 16 - (y % 2) * 8, y * 16 + 6];
      return `<path d="M${cx - 9} ${cy - 8} q0 15 9 17 q9 -2 9 -17 Z" fill="${y > 11 ? light : base}" stroke="${edge}" stroke-width="1.6"/>`;
    }),
  )}`;
/** Red is how rough, green how bright (kept the other way round), blue where it is wet. */
const grey = `<rect width="256" height="256" fill="#b0402f"/><path d="M0 180 q64 -30 128 0 t128 0 v76 h-256 Z" fill="#6080c0"/>${rows(8, (i) => `<path d="M0 ${i * 32 + 10} h256" stroke="#c86030" stroke-width="5"/>`)}`;
const normal = `<rect width="256" height="256" fill="#8080ff"/>${rows(16, (i) => `<path d="M0 ${i * 16 + 2} h256" stroke="#80a0f0" stroke-width="3"/><path d="M0 ${i * 16 + 10} h256" stroke="#8060f0" stroke-width="3"/>`)}`;
const horn = `<rect width="256" height="256" fill="#b9853a"/>${rows(20, (i) => `<path d="M0 ${i * 13} h256" stroke="#8a5f28" stroke-width="3"/>`)}`;
const crest = `<rect width="256" height="256" fill="#1d2b34"/><path d="M0 40 q128 60 256 0" stroke="#34536a" stroke-width="18" fill="none"/>`;
const scars = `<rect width="256" height="256" fill="#6b3030"/><path d="M20 60 l216 40 M10 130 l230 -20 M40 200 l190 20" stroke="#d98a80" stroke-width="12"/>`;
const wood = `<rect width="256" height="256" fill="#8a6a45"/>${rows(14, (i) => `<path d="M${i * 19} 0 q6 128 -4 256" stroke="#6b4d2e" stroke-width="3" fill="none"/>`)}`;
const fur = `<rect width="256" height="256" fill="#5a4331"/>${rows(40, (i) => `<path d="M${(i * 53) % 256} ${(i * 97) % 256} l5 22" stroke="#7d634b" stroke-width="3"/>`)}`;
const linen = (colour: string): string =>
  `<rect width="256" height="256" fill="${colour}"/>${rows(32, (i) => `<path d="M0 ${i * 8} h256 M${i * 8} 0 v256" stroke="#00000018" stroke-width="1.4"/>`)}`;

const creature = 'creatures/bog_heron';

export const formSheets = (): SheetRecipe[] => [
  sheet(`${creature}/plumage_colour.sheet`, 'bc1', plumage('#6d8190', '#3f5160', '#c9d3d4')),
  sheet(`${creature}/plumage_normal.sheet`, 'bc1', normal),
  sheet(`${creature}/plumage_grey.sheet`, 'bc1', grey),
  sheet(`${creature}/horn_colour.sheet`, 'bc1', horn),
  sheet(`${creature}/horn_grey.sheet`, 'bc1', grey, 128),
  sheet(`${creature}/crest_colour.sheet`, 'bc1', crest, 128),
  sheet(`${creature}/damage_colour.sheet`, 'bc1', scars, 128),
  sheet('creatures/otter/fur_colour.sheet', 'bc1', fur),
  sheet('props/boathook/wood_colour.sheet', 'bc1', wood),
];

export function formFiles(): Map<string, Buffer> {
  const of = (path: string, form: FormParts): [string, Buffer] => [path, writeForm(form)];
  const bird = heron();
  return new Map([
    of(`${creature}/bog_heron.form`, bird),
    [`${creature}/bog_heron.gait`, writeGaits(bird.joints, heronGaits(bird.joints))],
    of('creatures/otter/otter.form', otter()),
    of('actors/odd/odd.form', person('odd')),
    of('actors/ibis/ibis.form', person('ibis')),
    of('props/lantern/lantern.form', lantern()),
    of('props/boathook/boathook_coarse.form', boathook(false)),
    of('props/boathook/boathook_fine.form', boathook(true)),
    of('jetty/jetty.form', jetty()),
  ]);
}

/** The gait as the amends have it. */
export function amendedGait(): [string, Buffer] {
  const { joints } = heron();
  return [`${creature}/bog_heron.gait`, writeGaits(joints, amendedGaits(joints))];
}

const BLOUSES = [32, 20, 12, 8, 5];

/** Ibis' blouse in the chest: five meshes alike in name, and two colours. */
export const blouseFiles = (): Map<string, Buffer> =>
  new Map(
    BLOUSES.map((detail, i) => [
      `actors/ibis/clothes/blouse_${String.fromCharCode(99 + ((i * 2) % 5))}.form`,
      writeForm(blouse(detail)),
    ]),
  );

export const blouseSheets = (): SheetRecipe[] => [
  sheet('actors/ibis/clothes/blouse_colour.sheet', 'bc1', linen('#d8d0bd'), 128),
  sheet('actors/ibis/clothes/blouse_madder_colour.sheet', 'bc1', linen('#a8483c'), 128),
];

/** What codes of creatures stand for: a table as the engine keeps it. */
export const creatureTable = (): string =>
  [
    'code;name;variant',
    'bog_heron;Bog-heron;of the deep fen',
    'otter;Otter;brown',
    'otter_pale;Otter;pale',
  ].join('\n') + '\n';

/** What the pieces of clothing are, as the game's own table has it. */
export const clothesTable = (): string =>
  [
    'code;name;piece;cloth;season',
    'coat;Coat;coat;waxed linen;autumn',
    'coat_worn;Worn coat;coat;waxed linen;winter',
    'blouse;Blouse;blouse;linen;summer',
    'blouse_madder;Madder blouse;blouse;linen;harvest',
    'madder;Madder red;;;harvest',
  ].join('\n') + '\n';

export const outfitForm = (cut: 'storm' | 'feast' | 'harvest'): Buffer => writeForm(outfit(cut));

export const entriesOf = (files: ReadonlyMap<string, Buffer>, modified: number): HoldEntry[] =>
  [...files].map(([path, data]) => ({ path, data: () => data, modified }));
