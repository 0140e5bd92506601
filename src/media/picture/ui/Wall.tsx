import type { WallProps } from '@/media/medium-ui';
import { LookGroups } from './LookGroups';
import { PictureWall } from './PictureWall';

/** Pictures as thumbnails, in their order or by what looks alike. */
export function Wall({ group, folder, search, chosen, onShow, ...list }: WallProps) {
  if (group !== 'look') return <PictureWall {...list} />;
  return <LookGroups gameId={list.gameId} folder={folder} search={search} chosen={chosen} onShow={onShow} />;
}
