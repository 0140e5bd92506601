import { readYaml, type LocatedText } from '@/core/script';
import { GRIDS, type Grid } from './grid';

/** Rows of a table that stand on places. */
export interface Standing {
  readonly table: string;
  /** The field that means the place, and those of how far across and down. */
  readonly place: string;
  readonly across: string;
  readonly down: string;
  /** Fields that say what it is, by what they mean. */
  readonly is: readonly string[];
}

/** The part of a place that the game shows, by the fields that say it. */
export interface SeenPart {
  readonly across: string;
  readonly down: string;
  readonly wide: string;
  readonly high: string;
}

/** How rows of a table are maps. */
export interface MapWords {
  readonly table: string;
  readonly grid: Grid;
  /** Spots of a row: a number, or the field that says it. */
  readonly wide: number | string;
  /** Lists of tiles, row by row, the lowest first. */
  readonly layers: readonly string[];
  readonly seen: SeenPart | undefined;
  readonly stand: readonly Standing[];
}

/** What the text of a map begins with. */
export const MAP_OF = 'map of';

/** Reads how rows of a table are maps. Throws FormatError `script-wrong` with line, column and what was expected. */
export function parseMapWords(text: string): MapWords {
  const top = readYaml(text);
  top.entries([MAP_OF, 'grid', 'wide', 'tiles', 'seen', 'stand']);
  const grid = top.get('grid');
  const said = grid?.text() ?? 'squares';
  if (!(GRIDS as readonly string[]).includes(said)) grid!.fail(GRIDS.join(' or '), `'${said}'`);
  const wide = top.need('wide').text();
  const number = Number(wide);
  if (/^\d+$/.test(wide) && (number < 1 || number > 1_000_000))
    top.need('wide').fail('1 to 1000000 spots', wide);
  const tiles = top.need('tiles');
  const layers = tiles.isList() ? tiles.items().map((one) => one.text()) : [tiles.text()];
  if (layers.length === 0) tiles.fail('a field with tiles', 'none');
  const seen = top.get('seen');
  const name = (at: LocatedText, key: string): string => at.need(key).text();
  seen?.entries(['across', 'down', 'wide', 'high']);
  return {
    table: top.need(MAP_OF).text(),
    grid: said as Grid,
    wide: /^\d+$/.test(wide) ? number : wide,
    layers,
    seen: seen && {
      across: name(seen, 'across'),
      down: name(seen, 'down'),
      wide: name(seen, 'wide'),
      high: name(seen, 'high'),
    },
    stand: (top.get('stand')?.items() ?? []).map((one) => {
      one.entries(['in', 'place', 'across', 'down', 'is']);
      const is = one.get('is');
      return {
        table: name(one, 'in'),
        place: name(one, 'place'),
        across: name(one, 'across'),
        down: name(one, 'down'),
        is: is ? (is.isList() ? is.items().map((field) => field.text()) : [is.text()]) : [],
      };
    }),
  };
}
