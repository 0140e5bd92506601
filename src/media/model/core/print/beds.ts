import type { PrintSettings } from './settings';
import { sizeOf, type Solid } from './solid';

/** Millimetres between pieces. */
const GAP = 5;

/** Sets pieces side by side in rows as wide as the bed, from the front to the back; what has no room any more goes on behind it. */
export function sideBySide(pieces: readonly Solid[], bed: PrintSettings['bed']): Solid[] {
  let [x, y, deepest] = [0, 0, 0];
  return pieces.map((piece) => {
    const [wide, deep] = sizeOf(piece);
    if (x > 0 && x + wide > bed.x) [x, y, deepest] = [0, y + deepest + GAP, 0];
    const moved: Solid = {
      places: piece.places.map((value, i) => (i % 3 === 0 ? value + x : i % 3 === 1 ? value + y : value)),
      corners: piece.corners,
    };
    x += wide + GAP;
    deepest = Math.max(deepest, deep);
    return moved;
  });
}
