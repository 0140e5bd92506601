/** What a film is asked for by: its archive, the entry where it is one, and the mod as which it is meant. */
export interface FilmAddress {
  readonly archiveId: number;
  readonly index?: number | undefined;
  readonly mod?: number | undefined;
  /** Whether it is meant as it was before any installation. */
  readonly isOriginal?: boolean | undefined;
}

export const filmKey = ({ archiveId, index, mod, isOriginal = false }: FilmAddress): string =>
  `${archiveId}${index === undefined ? '' : `-${index}`}${mod === undefined ? (isOriginal ? 'o' : '') : `m${mod}`}`;

/** The address of a film in the folder, whichever of its states a key means. */
export const keyInFolder = (key: string): string => key.replace(/(m\d+|o)$/, '');
export const keyOfOriginal = (key: string): string => `${keyInFolder(key)}o`;

export const filmUrl = (gameId: number, key: string): string => `/api/games/${gameId}/films/${key}`;

/** A time in a film: minutes, seconds, and the thousandths of one. */
export function placeIn(seconds: number): string {
  const all = Math.round(Math.max(0, seconds) * 1000);
  const two = (n: number, digits = 2): string => String(n).padStart(digits, '0');
  const hours = Math.floor(all / 3_600_000);
  const rest = `${two(Math.floor(all / 60_000) % 60)}:${two(Math.floor(all / 1000) % 60)}.${two(all % 1000, 3)}`;
  return hours > 0 ? `${hours}:${rest}` : rest;
}
