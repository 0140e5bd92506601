import type { Grid, Part } from '@/media/table/core/places';

/** How a sort of tile is drawn: with a picture, else in a hue. */
export interface DrawnTile {
  readonly hue: number;
  readonly url: string | null;
}

export interface DrawnThing {
  readonly across: number;
  readonly down: number;
  readonly title: string;
  readonly url: string | null;
}

/** A map as it is drawn. */
export interface DrawnMap {
  readonly grid: Grid;
  readonly wide: number;
  readonly high: number;
  readonly tiles: readonly DrawnTile[];
  readonly layers: readonly Int32Array[];
  readonly seen: Part | null;
  readonly things: readonly DrawnThing[];
}

/** What of it is in sight. */
export interface Sight {
  /** Dots of the canvas. */
  readonly width: number;
  readonly height: number;
  /** Dots of the screen for one of the page. */
  readonly ratio: number;
  /** Dots of the page that a spot is wide. */
  readonly scale: number;
  /** What lies in the middle, in widths of a spot. */
  readonly x: number;
  readonly y: number;
  readonly across: number;
  readonly down: number;
  /** Layers that are shown. */
  readonly shown: readonly boolean[];
  readonly hues: { readonly stage: string; readonly lines: string; readonly mark: string };
}

export type ToMapWorker =
  | { readonly say: 'canvas'; readonly canvas: OffscreenCanvas }
  | { readonly say: 'map'; readonly map: DrawnMap }
  /** Spots of a layer that have another tile by now. */
  | {
      readonly say: 'paint';
      readonly layer: number;
      readonly spots: readonly number[];
      readonly tile: number;
    }
  | { readonly say: 'sight'; readonly sight: Sight };

/** Told after each picture: how long it took, and whether parts of it are still to be drawn finer. */
export interface FromMapWorker {
  readonly ms: number;
  readonly isWhole: boolean;
}
