'use client';
import { useCallback, useEffect, useMemo, useRef, type RefObject } from 'react';
import type { MapView } from '@/server/reading/map-view';
import { glanceOf, hueOf } from './tile-looks';
import type { DrawnMap, FromMapWorker, Sight, ToMapWorker } from './map-messages';

function drawn(gameId: number, map: MapView): DrawnMap {
  const urlOf = (entry: MapView['tiles'][number]['entry']): string | null => glanceOf(gameId, entry);
  return {
    ...{ grid: map.grid, wide: map.wide, high: map.high, seen: map.seen },
    tiles: map.tiles.map(({ title, entry }) => ({ hue: hueOf(title), url: urlOf(entry) })),
    layers: map.layers.map(({ spots }) => Int32Array.from(spots)),
    things: map.things.map(({ across, down, title, entry }) => ({ across, down, title, url: urlOf(entry) })),
  };
}

export interface Canvas {
  /** Draws spots of a layer with another tile, before the server has said so. */
  paint(layer: number, spots: readonly number[], tile: number): void;
  /** Draws it as the server says that it is. */
  redraw(): void;
}

/**
 * A canvas in a box that a worker draws a map in, off the page's main thread. What the worker tells of each picture stands as data of the box and makes no other work for the page: whether all of it is drawn,
 * how long it took, and its number.
 */
export function useCanvas(
  box: RefObject<HTMLDivElement | null>,
  gameId: number,
  map: MapView,
  sight: Sight | undefined,
): Canvas {
  const worker = useRef<Worker>(undefined);
  const latest = useRef<{ sight: Sight | undefined; map: MapView }>({ sight, map });
  const say = useCallback((message: ToMapWorker, passed: Transferable[] = []): void => {
    worker.current?.postMessage(message, passed);
  }, []);
  const redraw = useCallback((): void => {
    const now = drawn(gameId, latest.current.map);
    say(
      { say: 'map', map: now },
      now.layers.map(({ buffer }) => buffer as ArrayBuffer),
    );
  }, [gameId, say]);
  useEffect(() => {
    // A canvas is given away once; each worker has its own.
    const canvas = document.createElement('canvas');
    canvas.style.cssText = 'display:block;width:100%;height:100%';
    canvas.setAttribute('aria-hidden', 'true');
    const { dataset } = box.current!;
    box.current!.append(canvas);
    const offscreen = canvas.transferControlToOffscreen();
    const made = new Worker(new URL('./map.worker.ts', import.meta.url), { type: 'module' });
    let count = 0;
    made.onmessage = ({ data }: MessageEvent<FromMapWorker>) => {
      dataset.ms = data.ms.toFixed(0);
      dataset.count = String(++count);
      dataset.drawn = data.isWhole ? 'whole' : 'part';
    };
    worker.current = made;
    say({ say: 'canvas', canvas: offscreen }, [offscreen]);
    redraw();
    if (latest.current.sight) say({ say: 'sight', sight: latest.current.sight });
    return () => {
      made.terminate();
      canvas.remove();
      delete dataset.drawn;
    };
  }, [box, say, redraw]);
  useEffect(() => {
    const isFirst = latest.current.map === map;
    latest.current.map = map;
    if (!isFirst) redraw();
  }, [map, redraw]);
  useEffect(() => {
    latest.current.sight = sight;
    if (sight) say({ say: 'sight', sight });
  }, [sight, say]);
  const paint = useCallback<Canvas['paint']>(
    (layer, spots, tile) => say({ say: 'paint', layer, spots, tile }),
    [say],
  );
  return useMemo(() => ({ paint, redraw }), [paint, redraw]);
}
