'use client';
import { enqueueSnackbar } from 'notistack';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Spot } from '@/media/table/core/places/grid';
import type { MapView } from '@/server/reading/map-view';
import type { PaintAnswer } from '@/server/reading/paint-map';
import { api } from '../../api';
import type { Canvas } from './use-canvas';

/** What spots are given: a tile of a layer, or none. */
export interface Brush {
  readonly layer: number;
  /** The number of the tile; -1 for none. */
  readonly tile: number;
  readonly value: string | number;
}

interface Where {
  readonly gameId: number;
  readonly modId: number | undefined;
  readonly table: string;
  readonly row: number;
}

export interface Painting {
  readonly brush: Brush | undefined;
  readonly isOn: boolean;
  /** How many strokes are still on their way. */
  readonly waiting: number;
  choose(brush: Brush): void;
  turn(isOn: boolean): void;
  /** Takes the tile of a spot for what is painted with. */
  takeUp(spot: Spot): void;
  /** A spot of the stroke that is drawn; it is drawn at once. */
  touch(spot: Spot): void;
  /** The stroke is over and becomes a step of the mod. */
  end(): void;
}

/** The first tile that a map may be painted with. */
function firstBrush({ layers }: MapView): Brush | undefined {
  const layer = layers.findIndex(({ palette }) => palette.length > 0);
  const first = layers[layer]?.palette[0];
  return first && { layer, ...first };
}

/** Painting of tiles: strokes are seen at once, go to the server one after the other, and are each a step that can be undone. */
export function usePainting({ gameId, modId, table, row }: Where, map: MapView, canvas: Canvas): Painting {
  const [brush, setBrush] = useState<Brush | undefined>(() => firstBrush(map));
  const [isOn, setOn] = useState(false);
  const [waiting, setWaiting] = useState(0);
  const stroke = useRef(new Set<number>());
  const queue = useRef<{ last: Promise<void>; count: number }>({ last: Promise.resolve(), count: 0 });
  /** What each layer is told by, with all strokes that are there already. */
  const stamps = useRef<string[]>([]);
  useEffect(() => {
    // While strokes are on their way, what they answer counts.
    if (queue.current.count === 0) stamps.current = map.layers.map(({ stamp }) => stamp);
  }, [map]);

  const touch = useCallback(
    ({ across, down }: Spot): void => {
      if (!brush || across < 0 || down < 0 || across >= map.wide || down >= map.high) return;
      const spot = down * map.wide + across;
      if (stroke.current.has(spot) || spot >= map.layers[brush.layer]!.spots.length) return;
      stroke.current.add(spot);
      canvas.paint(brush.layer, [spot], brush.tile);
    },
    [brush, canvas, map],
  );
  const end = useCallback((): void => {
    const spots = [...stroke.current];
    stroke.current = new Set();
    if (spots.length === 0 || !brush || modId === undefined) return;
    const { layer, value } = brush;
    const { field } = map.layers[layer]!;
    const work = async (): Promise<void> => {
      try {
        const { stamp, fit } = await api.post<PaintAnswer>(`games/${gameId}/mods/${modId}/tiles`, {
          ...{ table, row, field, stamp: stamps.current[layer], spots, value },
        });
        stamps.current[layer] = stamp;
        if (fit === 'does not fit')
          enqueueSnackbar('The tiles are changed, but the file does not fit; Changes says why.', {
            variant: 'warning',
          });
      } catch (error) {
        enqueueSnackbar((error as Error).message, { variant: 'error', autoHideDuration: 15_000 });
        canvas.redraw();
      } finally {
        queue.current.count--;
        setWaiting(queue.current.count);
      }
    };
    queue.current.count++;
    setWaiting(queue.current.count);
    queue.current.last = queue.current.last.then(work);
  }, [brush, canvas, gameId, map, modId, row, table]);
  const takeUp = useCallback(
    ({ across, down }: Spot): void => {
      const layer = brush?.layer ?? 0;
      const own = map.layers[layer];
      const tile = own?.spots[down * map.wide + across];
      const found = own?.palette.find((one) => one.tile === tile);
      if (found) setBrush({ layer, ...found });
    },
    [brush, map],
  );
  return { brush, isOn, waiting, choose: setBrush, turn: setOn, takeUp, touch, end };
}
