import type { ChangeView } from '@/server/mods/mods';
import { bytes } from '../format';

/** The sizes of a change, before and after: `new` and `gone` where there is none. */
export function sizeWords({
  action,
  originalSize,
  preparedSize,
}: Pick<ChangeView, 'action' | 'originalSize' | 'preparedSize'>): string {
  const before = action === 'add' ? 'new' : bytes(originalSize);
  const after = action === 'remove' ? 'gone' : preparedSize === null ? '?' : bytes(preparedSize);
  return `${before} → ${after}`;
}
