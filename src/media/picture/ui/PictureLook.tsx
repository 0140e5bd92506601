import type { LookProps } from '@/media/medium-ui';
import { nameOf } from '@/ui/format';
import { PictureView } from './PictureView';

/** A picture of more texels is shown by its thumbnail; the light table has all of it. */
const MOST_INLINE = 4096 * 4096;

/** A picture, as it is or as a mod will have it: one and the same, so that what is open over it stays open. */
export function PictureLook({ gameId, data, url, version, changed }: LookProps) {
  const { look } = data;
  if (look.sort !== 'picture') return null;
  const isLarge = !changed && look.width * look.height > MOST_INLINE;
  return (
    <PictureView
      label={nameOf(data.path)}
      alpha={look.alpha}
      pixelated={look.width <= 128}
      url={`${url}/picture?${isLarge ? 'most=512&' : ''}${version}`}
      table={{
        title: data.path,
        role: data.role,
        url: `${url}/texels`,
        ...(!changed && { blockUrl: `${url.replace('/api/', '')}/block` }),
        source: { gameId, archiveId: data.archiveId, index: data.index },
      }}
    />
  );
}
