import { uiOf } from '@/media/ui';
import type { MapView } from '@/server/reading/map-view';

/** A hue for a name, the same each time. */
export function hueOf(text: string): number {
  let sum = 0;
  for (let i = 0; i < text.length; i++) sum = (sum * 31 + text.charCodeAt(i)) >>> 0;
  return sum % 360;
}

/** The address of the picture that something is drawn with; null where it has none. */
export function glanceOf(gameId: number, entry: MapView['tiles'][number]['entry']): string | null {
  const glance = entry && uiOf(entry.kind)?.glance;
  return glance ? `/api/games/${gameId}/entries/${entry.archiveId}/${entry.index}/${glance}` : null;
}
