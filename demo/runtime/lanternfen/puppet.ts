import type { Picture } from '../common/picture';
import { Stall } from '../common/stall';

const WIDTH = 128;
const HEIGHT = 192;

/** Hangs the parts of one puppet together, from the sheet that they lie on and its list. */
export function hangPuppet(sheet: Picture, list: string, puppet: string, what: string): Picture {
  const [head = '', ...lines] = list.trim().split('\n');
  const titles = head.split(',');
  const rgba = Buffer.alloc(WIDTH * HEIGHT * 4);
  let parts = 0;
  for (const line of lines) {
    const cells = line.split(',');
    const cell = (title: string): string => cells[titles.indexOf(title)] ?? '';
    if (cell('puppet') !== puppet) continue;
    const [x, y, width, height, hangsX, hangsY] = ['x', 'y', 'width', 'height', 'hangs_x', 'hangs_y'].map(
      (title) => Number(cell(title)),
    ) as [number, number, number, number, number, number];
    if (!(x + width <= sheet.width && y + height <= sheet.height))
      throw new Stall(
        what,
        cell('name'),
        `it lies outside of the sheet of ${sheet.width} by ${sheet.height}`,
      );
    for (let row = 0; row < height; row++)
      for (let column = 0; column < width; column++) {
        const from = 4 * ((y + row) * sheet.width + x + column);
        const to = 4 * ((hangsY + row) * WIDTH + hangsX + column);
        if (sheet.rgba[from + 3]! > 127 && hangsX + column < WIDTH && hangsY + row < HEIGHT)
          sheet.rgba.copy(rgba, to, from, from + 4);
      }
    parts++;
  }
  if (parts === 0) throw new Stall(what, 'puppet', `the list has no part of ${puppet}`);
  return { width: WIDTH, height: HEIGHT, rgba, layout: 1 };
}
