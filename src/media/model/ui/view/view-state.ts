/** How the surface of a model is drawn. */
export const SURFACES = ['painted', 'grey', 'plain', 'normals', 'wire', 'weights'] as const;
export type Surface = (typeof SURFACES)[number];

/** What stands behind a model, and the hue of lines before that; the page's own where nothing is said. */
export const BACKGROUNDS = {
  white: { background: '#ffffff', ink: '#15282c' },
  grey: { background: '#808080', ink: '#15282c' },
  black: { background: '#000000', ink: '#ebe6da' },
} as const;
export type Background = 'page' | keyof typeof BACKGROUNDS;

/** What is shown of a model. */
export interface ModelViewState {
  readonly surface: Surface;
  /** Numbers of parts that are left out. */
  readonly hidden: readonly number[];
  readonly level: number;
  readonly showsBones: boolean;
  readonly showsBox: boolean;
  readonly showsGround: boolean;
  readonly isMeasuring: boolean;
  /** The bone whose weights are shown, and which is marked; -1 for none. */
  readonly bone: number;
  readonly background: Background;
  /** How bright the light is; 1 is usual. */
  readonly light: number;
  /** Number of the clip that plays; -1 for none. */
  readonly clip: number;
  /** How much there is of other shapes, by their names; 0 where nothing is said. */
  readonly shapes: Readonly<Record<string, number>>;
}

export const FIRST_VIEW: ModelViewState = {
  ...{ surface: 'painted', hidden: [], level: 0, showsBones: false, showsBox: false, showsGround: true },
  ...{ isMeasuring: false, bone: -1, light: 1, clip: -1, shapes: {}, background: 'page' },
};

/** The hue of a weight from 0 to 1: from cold to warm, as red, green and blue from 0 to 1. */
export function hueOfWeight(weight: number): [number, number, number] {
  const t = Math.min(1, Math.max(0, weight));
  if (t === 0) return [0.16, 0.2, 0.24];
  return [Math.min(1, 0.2 + 1.1 * t), 0.45 + 0.35 * Math.sin(Math.PI * t), Math.max(0.08, 0.75 - 0.9 * t)];
}

/** Seconds spelled with the frame, where a rate is said. */
export const momentOf = (seconds: number, rate: number): string =>
  rate > 0 ? `frame ${Math.round(seconds * rate)}, ${seconds.toFixed(2)} s` : `${seconds.toFixed(2)} s`;

/** A length in words: millimetres below a centimetre. */
export function lengthSaid(metres: number): string {
  const size = Math.abs(metres);
  if (size < 0.01) return `${(metres * 1000).toFixed(2)} mm`;
  if (size < 1) return `${(metres * 100).toFixed(1)} cm`;
  return `${metres.toFixed(2)} m`;
}
