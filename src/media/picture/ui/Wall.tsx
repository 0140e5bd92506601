import type { WallProps } from '@/media/medium-ui';
import { MediaWall, type FaceProps, type MediaWallProps } from '@/ui/contents/MediaWall';
import { nameOf } from '@/ui/format';
import { LookGroups } from './LookGroups';

/** Pictures as thumbnails, in their order or by what looks alike. */
export function Wall({ group, folder, search, chosen, onShow, ...list }: WallProps) {
  if (group !== 'look') return <MediaWall {...list} Face={Thumbnail} noun="picture" corner={seeThrough} />;
  return <LookGroups gameId={list.gameId} folder={folder} search={search} chosen={chosen} onShow={onShow} />;
}

const seeThrough: MediaWallProps['corner'] = (head) =>
  head?.sort === 'picture' && head.alpha ? ['alpha', 'Some of it is see-through'] : undefined;

function Thumbnail({ gameId, item }: FaceProps) {
  return (
    <img
      src={`/api/games/${gameId}/entries/${item.archiveId}/${item.index}/picture?most=256`}
      alt={nameOf(item.path)}
      loading="lazy"
      style={{ maxWidth: '100%', maxHeight: '100%', width: '100%', height: '100%', objectFit: 'contain' }}
    />
  );
}
