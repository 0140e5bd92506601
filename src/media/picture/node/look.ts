import type { Head } from '@/media/head';
import type { Look } from '@/media/look';
import type { LookFile, LookTools } from '@/media/medium';
import { MOST_TEXELS, textureOf } from './pictures';

/** What is shown of a picture: how many images it has, whether it is see-through, and where it is placed. */
export async function lookAtPicture(
  head: Head,
  file: LookFile,
  { scripts, isSeeThrough }: LookTools,
): Promise<Look | undefined> {
  if (head.sort !== 'picture') return undefined;
  if (head.width * head.height > MOST_TEXELS) {
    const rest = { layers: 1, faces: 1, depth: 1, colourSpace: 'not said', frames: 0 } as const;
    return { ...head, ...rest, alpha: head.alpha ?? true, container: head.layout };
  }
  const bytes = file.bytes();
  const texture = textureOf(bytes, file.name, scripts);
  const alpha = texture?.layout.alpha === 'none' ? false : await isSeeThrough(bytes, file.name);
  const {
    container = head.layout,
    layers = 1,
    faces = 1,
    depth = 1,
    colourSpace = 'not said',
    origin,
  } = texture ?? {};
  const frames = texture?.frames?.length ?? 0;
  return { ...head, alpha, container, layers, faces, depth, colourSpace, origin, frames };
}
