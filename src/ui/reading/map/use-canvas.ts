'use client';
import { useEffect, useRef, type RefObject } from 'react';
import type { MapView } from '@/server/reading/map-view';
import { uiOf } from '@/media/ui';
import type { DrawnMap, FromMapWorker, Sight, ToMapWorker } from './map-messages';

/** A hue for a name, the same each time. */
function hueOf(text: string): number {
  let sum = 0;
  for (let i = 0; i < text.length; i++) sum = (sum * 31 + text.charCodeAt(i)) >>> 0;
  return sum % 360;
}

function drawn(gameId: number, map: MapView): DrawnMap {
  const urlOf = (entry: MapView['tiles'][number]['entry']): string | null => {
    const glance = entry && uiOf(entry.kind)?.glance;
    return glance ? `/api/games/${gameId}/entries/${entry.archiveId}/${entry.index}/${glance}` : null;
  };
  return {
    ...{ grid: map.grid, wide: map.wide, high: map.high, seen: map.seen },
    tiles: map.tiles.map(({ title, entry }) => ({ hue: hueOf(title), url: urlOf(entry) })),
    layers: map.layers.map(({ spots }) => Int32Array.from(spots)),
    things: map.things.map(({ across, down, title, entry }) => ({ across, down, title, url: urlOf(entry) })),
  };
}

/**
 * A canvas in a box that a worker draws a map in, off the page's main thread. What the worker tells of each picture stands as data of the box and makes no other work for the page: whether all of it is drawn,
 * how long it took, and its number.
 */
export function useCanvas(
  gameId: number,
  map: MapView,
  sight: Sight | undefined,
): RefObject<HTMLDivElement | null> {
  const box = useRef<HTMLDivElement>(null);
  const worker = useRef<Worker>(undefined);
  const latest = useRef<Sight>(undefined);
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
    const message: ToMapWorker = { say: 'map', canvas: offscreen, map: drawn(gameId, map) };
    made.postMessage(message, [offscreen, ...message.map.layers.map(({ buffer }) => buffer as ArrayBuffer)]);
    worker.current = made;
    if (latest.current) made.postMessage({ say: 'sight', sight: latest.current } satisfies ToMapWorker);
    return () => {
      made.terminate();
      canvas.remove();
      delete dataset.drawn;
    };
  }, [gameId, map]);
  useEffect(() => {
    latest.current = sight;
    if (sight) worker.current?.postMessage({ say: 'sight', sight } satisfies ToMapWorker);
  }, [sight]);
  return box;
}
