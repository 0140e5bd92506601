/** How a picture lies on the light table. */
export const CHANNELS = ['all', 'red', 'green', 'blue', 'alpha'] as const;
export type ChannelShown = (typeof CHANNELS)[number];

export const GROUNDS = ['checker', 'solid', 'ignored'] as const;
export type Ground = (typeof GROUNDS)[number];

export interface View {
  readonly channel: ChannelShown;
  /** A single channel in its own colour instead of grey. */
  readonly tinted: boolean;
  readonly ground: Ground;
  readonly solid: string;
  /** Texels are light itself and not yet sRGB. */
  readonly linear: boolean;
  readonly tiled: boolean;
  readonly lit: boolean;
  /** Channels stand for areas that are shown in these colours. */
  readonly masked: boolean;
  readonly maskColours: readonly [string, string, string, string];
  readonly compare: 'off' | 'slider' | 'difference';
  /** Where the slider is, 0 to 1. */
  readonly split: number;
  readonly gain: number;
}

export const FIRST_VIEW: View = {
  channel: 'all',
  tinted: false,
  ground: 'checker',
  solid: '#777777',
  linear: false,
  tiled: false,
  lit: false,
  masked: false,
  maskColours: ['#b5482f', '#2f7d6a', '#c8952b', '#44566b'],
  compare: 'off',
  split: 0.5,
  gain: 8,
};

/** How a sheet is looked at first, by what it is for. */
export function viewOfRole(role: string | null | undefined): Partial<View> {
  if (role === 'normal') return { lit: true };
  if (role === 'mask') return { masked: true };
  return {};
}

/** Texel 0, 0 lies at x, y of the canvas, in pixels of the screen; a texel is `zoom` of them wide. */
export interface Placement {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

export const LEAST_ZOOM = 1 / 64;
export const MOST_ZOOM = 128;

/** The whole picture in the middle, no larger than it is eight times. */
export function fitted(width: number, height: number, boxWidth: number, boxHeight: number): Placement {
  const room = Math.min((boxWidth - 24) / width, (boxHeight - 24) / height);
  const zoom = Math.max(LEAST_ZOOM, room >= 1 ? Math.min(8, Math.floor(room)) : room);
  return {
    zoom,
    x: Math.round((boxWidth - width * zoom) / 2),
    y: Math.round((boxHeight - height * zoom) / 2),
  };
}

/** Nearer or further, so that what lies under a point stays there. */
export function zoomedAt(placement: Placement, factor: number, x: number, y: number): Placement {
  const zoom = Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, placement.zoom * factor));
  const by = zoom / placement.zoom;
  return { zoom, x: x - (x - placement.x) * by, y: y - (y - placement.y) * by };
}

/** The texel under a point of the canvas; undefined beside the picture. */
export function texelAt(
  { x, y, zoom }: Placement,
  at: { width: number; height: number },
  px: number,
  py: number,
): { x: number; y: number } | undefined {
  const tx = Math.floor((px - x) / zoom);
  const ty = Math.floor((py - y) / zoom);
  return tx >= 0 && ty >= 0 && tx < at.width && ty < at.height ? { x: tx, y: ty } : undefined;
}
