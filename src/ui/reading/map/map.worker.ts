import { CORNERS, HEX_RADIUS, middleOf, type Spot } from '@/media/table/core/places/grid';
import { CHUNK, Chunks, inSight, Whole } from './chunks';
import type { DrawnMap, DrawnThing, FromMapWorker, Sight, ToMapWorker } from './map-messages';

/** Smaller spots are drawn in their hues only. */
const LEAST_DRAWN = 10;
const MOST_AT_ONCE_MS = 12;
const PICTURE_TRIES = 6;

let canvas: OffscreenCanvas | undefined;
let map: DrawnMap | undefined;
let sight: Sight | undefined;
let chunks: Chunks | undefined;
let whole: { of: Whole; shown: string; pictures: number } | undefined;
let isAsked = false;
const pictures = new Map<string, ImageBitmap>();
const asked = new Set<string>();
/** What stands on a spot, by it. */
let standing = new Map<string, DrawnThing[]>();

self.onmessage = ({ data }: MessageEvent<ToMapWorker>) => {
  if (data.say === 'canvas') ({ canvas } = data);
  else if (data.say === 'sight') ({ sight } = data);
  else if (data.say === 'paint') paint(data.layer, data.spots, data.tile);
  else take(data.map);
  ask();
};

/** A map, or the same one with other tiles on some spots, of which only these are drawn anew. */
function take(next: DrawnMap): void {
  const before = map;
  standing = new Map();
  for (const thing of next.things) {
    const key = `${thing.across} ${thing.down}`;
    const own = standing.get(key);
    if (own) own.push(thing);
    else standing.set(key, [thing]);
  }
  if (before && isOfSameForm(before, next)) {
    next.layers.forEach((layer, i) => {
      const own = before.layers[i]!;
      layer.forEach((tile, spot) => {
        if (own[spot] !== tile) put(before, i, spot, tile);
      });
    });
    map = { ...next, layers: before.layers };
  } else {
    map = next;
    chunks = undefined;
    whole = undefined;
  }
  void fetchPictures(map);
}

const isOfSameForm = (a: DrawnMap, b: DrawnMap): boolean =>
  a.grid === b.grid &&
  a.wide === b.wide &&
  a.high === b.high &&
  a.layers.length === b.layers.length &&
  a.layers.every((layer, i) => layer.length === b.layers[i]!.length) &&
  JSON.stringify(a.tiles) === JSON.stringify(b.tiles);

function paint(layer: number, spots: readonly number[], tile: number): void {
  if (!map?.layers[layer]) return;
  for (const spot of spots) put(map, layer, spot, tile);
  const url = map.tiles[tile]?.url ?? null;
  if (url !== null && !asked.has(url)) void fetchPictures(map);
}

function put({ layers, wide }: DrawnMap, layer: number, spot: number, tile: number): void {
  layers[layer]![spot] = tile;
  const at = { across: spot % wide, down: Math.floor(spot / wide) };
  chunks?.touch(at);
  whole?.of.draw(at);
}

function ask(): void {
  if (isAsked) return;
  isAsked = true;
  requestAnimationFrame(() => {
    isAsked = false;
    draw();
  });
}

/** Fetches what tiles on the map and things are drawn with, a few at a time. */
async function fetchPictures({ tiles, layers, things }: DrawnMap): Promise<void> {
  const inUse = new Set(layers.flatMap((layer) => [...new Set(layer)]));
  const shown = tiles.filter((_, tile) => inUse.has(tile));
  const wanted = [...new Set([...shown, ...things].flatMap(({ url }) => (url === null ? [] : [url])))].filter(
    (url) => !asked.has(url),
  );
  for (const url of wanted) asked.add(url);
  const next = async (): Promise<void> => {
    for (let url = wanted.shift(); url !== undefined; url = wanted.shift()) {
      try {
        const answer = await fetch(url);
        if (!answer.ok) continue;
        pictures.set(url, await createImageBitmap(await answer.blob()));
      } catch {
        // It is drawn in its hue, as what has no picture.
        continue;
      }
      chunks = undefined;
      ask();
    }
  };
  await Promise.all(Array.from({ length: PICTURE_TRIES }, next));
}

function draw(): void {
  if (!canvas || !map || !sight) return;
  const began = performance.now();
  const { width, height, ratio, x, y, shown, hues } = sight;
  const scale = sight.scale * ratio;
  if (canvas.width !== width * ratio || canvas.height !== height * ratio) {
    canvas.width = Math.max(1, width * ratio);
    canvas.height = Math.max(1, height * ratio);
  }
  const on = canvas.getContext('2d')!;
  on.fillStyle = hues.stage;
  on.fillRect(0, 0, canvas.width, canvas.height);
  const [left, top] = [canvas.width / 2 - x * scale, canvas.height / 2 - y * scale];
  const isSmall = sight.scale < LEAST_DRAWN;
  if (isSmall) drawWhole(on, left, top, scale, shown);
  const isWhole = isSmall || drawChunks(on, left, top, scale, shown, began);
  drawSeen(on, left, top, scale);
  drawThings(on, left, top, scale);
  outline(on, left, top, scale, sight, hues.mark, 3 * ratio);
  const told: FromMapWorker = { ms: performance.now() - began, isWhole };
  self.postMessage(told);
  if (!isWhole) ask();
}

type Context = OffscreenCanvasRenderingContext2D;

function drawWhole(on: Context, left: number, top: number, scale: number, shown: readonly boolean[]): void {
  const { grid, wide, high } = map!;
  const key = shown.join();
  if (whole?.shown !== key || whole.pictures !== pictures.size)
    whole = { of: new Whole(map!, shown, pictures), shown: key, pictures: pictures.size };
  const { canvas: from, dots } = whole.of;
  const row = grid === 'hexagons' ? 1.5 * HEX_RADIUS : 1;
  const above = grid === 'hexagons' ? HEX_RADIUS / 4 : 0;
  on.imageSmoothingEnabled = false;
  on.drawImage(
    from,
    ...([0, 0, (wide + 1) * dots, high * dots] as const),
    ...([left, top + above * scale, (wide + 1) * scale, high * row * scale] as const),
  );
}

/** Draws the parts that are in sight, in their mean hues those that are still to be made; false where there are some. */
function drawChunks(
  on: Context,
  left: number,
  top: number,
  scale: number,
  shown: readonly boolean[],
  began: number,
): boolean {
  if (chunks?.scale !== scale || chunks.shown.join() !== shown.join())
    chunks = new Chunks(map!, scale, shown, pictures);
  let isWhole = true;
  const from = [Math.floor(-left / CHUNK), Math.floor(-top / CHUNK)] as const;
  const to = [
    Math.floor((canvas!.width - left) / CHUNK),
    Math.floor((canvas!.height - top) / CHUNK),
  ] as const;
  for (let row = from[1]; row <= to[1]; row++)
    for (let column = from[0]; column <= to[0]; column++) {
      if (!chunks.get(column, row)) {
        if (performance.now() - began > MOST_AT_ONCE_MS) {
          isWhole = false;
          on.save();
          on.beginPath();
          on.rect(left + column * CHUNK, top + row * CHUNK, CHUNK, CHUNK);
          on.clip();
          drawWhole(on, left, top, scale, shown);
          on.restore();
          continue;
        }
        chunks.make(column, row);
      }
      on.drawImage(
        chunks.get(column, row)!,
        Math.round(left + column * CHUNK),
        Math.round(top + row * CHUNK),
      );
    }
  return isWhole;
}

/** The part that the game shows. */
function drawSeen(on: Context, left: number, top: number, scale: number): void {
  const { grid, seen } = map!;
  if (!seen) return;
  const first = middleOf(grid, seen);
  const last = middleOf(grid, { across: seen.across + seen.wide - 1, down: seen.down + seen.high - 1 });
  const half = grid === 'hexagons' ? HEX_RADIUS : 0.5;
  const right = seen.across + seen.wide + (grid === 'hexagons' && seen.high > 1 ? 0.5 : 0);
  on.strokeStyle = sight!.hues.lines;
  on.lineWidth = 2 * sight!.ratio;
  on.setLineDash([8 * sight!.ratio, 5 * sight!.ratio]);
  on.strokeRect(
    left + seen.across * scale,
    top + (first.y - half) * scale,
    (right - seen.across) * scale,
    (last.y - first.y + 2 * half) * scale,
  );
  on.setLineDash([]);
}

function outline(
  on: Context,
  left: number,
  top: number,
  scale: number,
  spot: Spot,
  hue: string,
  width: number,
): void {
  const { x, y } = middleOf(map!.grid, spot);
  on.beginPath();
  for (const corner of CORNERS[map!.grid])
    on.lineTo(left + (x + corner.x) * scale, top + (y + corner.y) * scale);
  on.closePath();
  on.strokeStyle = sight!.hues.stage;
  on.lineWidth = width * 2;
  on.stroke();
  on.strokeStyle = hue;
  on.lineWidth = width;
  on.stroke();
}

/** What stands there: a picture in a ring where there is one, else a letter; how many, where there are several. */
function drawThings(on: Context, left: number, top: number, scale: number): void {
  const { from, to } = inSight(map!, sight!);
  const { hues, ratio } = sight!;
  for (const own of standing.values()) {
    const [thing] = own;
    const { across, down, url, title } = thing!;
    if (across < from.across || across > to.across || down < from.down || down > to.down) continue;
    const { x, y } = middleOf(map!.grid, thing!);
    const radius = Math.max(2.5 * ratio, scale * 0.36);
    const [cx, cy] = [left + x * scale, top + y * scale];
    on.save();
    on.beginPath();
    on.arc(cx, cy, radius, 0, 2 * Math.PI);
    on.fillStyle = hues.stage;
    on.fill();
    const picture = url === null ? undefined : pictures.get(url);
    if (picture && radius > 5 * ratio) {
      on.clip();
      on.imageSmoothingEnabled = true;
      on.drawImage(picture, cx - radius, cy - radius, 2 * radius, 2 * radius);
    } else if (radius > 7 * ratio) {
      on.fillStyle = hues.lines;
      on.font = `600 ${Math.round(radius)}px sans-serif`;
      on.textAlign = 'center';
      on.textBaseline = 'middle';
      on.fillText([...title.replace(/^(?:a|an|the) /i, '')][0]?.toUpperCase() ?? '?', cx, cy + radius * 0.06);
    }
    on.restore();
    on.beginPath();
    on.arc(cx, cy, radius, 0, 2 * Math.PI);
    on.strokeStyle = hues.lines;
    on.lineWidth = 1.5 * ratio;
    on.stroke();
    if (own.length > 1 && radius > 7 * ratio)
      countOf(on, cx + radius * 0.75, cy - radius * 0.75, radius, own.length);
  }
}

function countOf(on: Context, x: number, y: number, radius: number, count: number): void {
  const { hues, ratio } = sight!;
  const size = Math.max(8 * ratio, radius * 0.5);
  on.beginPath();
  on.arc(x, y, size, 0, 2 * Math.PI);
  on.fillStyle = hues.lines;
  on.fill();
  on.fillStyle = hues.stage;
  on.font = `600 ${Math.round(size * 1.1)}px sans-serif`;
  on.textAlign = 'center';
  on.textBaseline = 'middle';
  on.fillText(String(count), x, y);
}
