import { LRUCache } from 'lru-cache';
import { CORNERS, middleOf, spotAt, type Spot } from '@/media/table/core/places/grid';
import type { DrawnMap } from './map-messages';

/** Dots of a side of a part of the map that is drawn once. */
export const CHUNK = 512;
const MOST_CHUNKS = 160;

/** Ground of a map at one size, in parts that are drawn when they come into sight. */
export class Chunks {
  private readonly made = new LRUCache<string, OffscreenCanvas>({ max: MOST_CHUNKS });
  private readonly stamps = new Map<number, OffscreenCanvas>();

  constructor(
    private readonly map: DrawnMap,
    /** Dots that a spot is wide. */
    readonly scale: number,
    readonly shown: readonly boolean[],
    private readonly pictures: ReadonlyMap<string, ImageBitmap>,
  ) {}

  get(column: number, row: number): OffscreenCanvas | undefined {
    return this.made.get(`${column} ${row}`);
  }

  /** Has the parts that a spot lies in drawn again. */
  touch(spot: Spot): void {
    const { x, y } = middleOf(this.map.grid, spot);
    const range = (middle: number): readonly [number, number] => [
      Math.floor(((middle - 0.75) * this.scale - 2) / CHUNK),
      Math.floor(((middle + 0.75) * this.scale + 2) / CHUNK),
    ];
    const [columns, rows] = [range(x), range(y)];
    for (let column = columns[0]; column <= columns[1]; column++)
      for (let row = rows[0]; row <= rows[1]; row++) this.made.delete(`${column} ${row}`);
  }

  /** Draws a part. */
  make(column: number, row: number): void {
    const canvas = new OffscreenCanvas(CHUNK, CHUNK);
    const on = canvas.getContext('2d')!;
    const { grid, wide, high, layers } = this.map;
    const [left, top] = [(column * CHUNK) / this.scale, (row * CHUNK) / this.scale];
    const size = CHUNK / this.scale;
    const first = spotAt(grid, { x: left, y: top });
    const last = spotAt(grid, { x: left + size, y: top + size });
    for (let down = Math.max(0, first.down - 1); down <= Math.min(high - 1, last.down + 1); down++)
      for (
        let across = Math.max(0, first.across - 1);
        across <= Math.min(wide - 1, last.across + 1);
        across++
      ) {
        const { x, y } = middleOf(grid, { across, down });
        for (const [i, layer] of layers.entries()) {
          const tile = this.shown[i] ? (layer[down * wide + across] ?? -1) : -1;
          if (tile < 0) continue;
          const stamp = this.stampOf(tile);
          on.drawImage(
            stamp,
            Math.round((x - left) * this.scale - stamp.width / 2),
            Math.round((y - top) * this.scale - stamp.height / 2),
          );
        }
      }
    this.made.set(`${column} ${row}`, canvas);
  }

  /** A tile at this size, cut to the form of a spot; a dot larger, so that no seam is seen between two. */
  private stampOf(number: number): OffscreenCanvas {
    const known = this.stamps.get(number);
    if (known) return known;
    const { grid, tiles } = this.map;
    const corners = CORNERS[grid];
    const wide = Math.ceil(this.scale) + 2;
    const high = Math.ceil((grid === 'hexagons' ? 2 / Math.sqrt(3) : 1) * this.scale) + 2;
    const canvas = new OffscreenCanvas(wide, high);
    const on = canvas.getContext('2d')!;
    on.beginPath();
    for (const { x, y } of corners)
      on.lineTo(wide / 2 + x * (this.scale + 1.2), high / 2 + y * (this.scale + 1.2));
    on.closePath();
    on.clip();
    const { hue, url } = tiles[number]!;
    const picture = url === null ? undefined : this.pictures.get(url);
    if (picture) on.drawImage(picture, 0, 0, wide, high);
    else {
      on.fillStyle = `hsl(${hue} 35% 48%)`;
      on.fillRect(0, 0, wide, high);
    }
    this.stamps.set(number, canvas);
    return canvas;
  }
}

/** All of a map at few dots a spot, in the mean hues of its tiles: what stands until parts are drawn, and where spots are too small for pictures. */
export class Whole {
  readonly canvas: OffscreenCanvas;
  /** Dots a spot. */
  readonly dots: number;

  private readonly on: OffscreenCanvasRenderingContext2D;
  private readonly hues: readonly string[];

  constructor(
    private readonly map: DrawnMap,
    private readonly shown: readonly boolean[],
    pictures: ReadonlyMap<string, ImageBitmap>,
  ) {
    const { wide, high, tiles } = map;
    const dots = Math.max(1, Math.min(4, Math.floor(4096 / Math.max(wide + 1, high))));
    this.dots = dots;
    this.canvas = new OffscreenCanvas(
      Math.min(8192, (wide + 1) * dots),
      Math.min(8192, Math.max(1, high) * dots),
    );
    this.on = this.canvas.getContext('2d')!;
    this.hues = tiles.map(
      ({ hue, url }) => meanOf(url === null ? undefined : pictures.get(url)) ?? `hsl(${hue} 35% 48%)`,
    );
    for (let down = 0; down < high; down++)
      for (let across = 0; across < wide; across++) this.draw({ across, down });
  }

  /** Draws a spot as it is by now. */
  draw({ across, down }: Spot): void {
    const { dots, on } = this;
    const { grid, wide, layers } = this.map;
    const shift = grid === 'hexagons' && (down & 1) !== 0 ? dots / 2 : 0;
    const place = [across * dots + shift, down * dots, dots, dots] as const;
    on.clearRect(...place);
    for (const [i, layer] of layers.entries()) {
      const tile = this.shown[i] ? (layer[down * wide + across] ?? -1) : -1;
      if (tile < 0) continue;
      on.fillStyle = this.hues[tile]!;
      on.fillRect(...place);
    }
  }
}

/** The mean hue of a picture. */
function meanOf(picture: ImageBitmap | undefined): string | undefined {
  if (!picture) return undefined;
  const canvas = new OffscreenCanvas(1, 1);
  const on = canvas.getContext('2d', { willReadFrequently: true })!;
  on.imageSmoothingQuality = 'high';
  const { width, height } = picture;
  // Its middle, since corners of a hexagon's picture are see-through.
  on.drawImage(picture, width / 4, height / 4, width / 2, height / 2, 0, 0, 1, 1);
  const [red, green, blue, alpha] = on.getImageData(0, 0, 1, 1).data;
  return alpha === 0 ? undefined : `rgb(${red} ${green} ${blue})`;
}

/** The spots of a corner of what is in sight and of the other. */
export function inSight(
  map: DrawnMap,
  { x, y, width, height, scale }: { x: number; y: number; width: number; height: number; scale: number },
): { readonly from: Spot; readonly to: Spot } {
  const [w, h] = [width / scale / 2, height / scale / 2];
  const from = spotAt(map.grid, { x: x - w, y: y - h });
  const to = spotAt(map.grid, { x: x + w, y: y + h });
  return {
    from: { across: from.across - 1, down: from.down - 1 },
    to: { across: to.across + 1, down: to.down + 1 },
  };
}
