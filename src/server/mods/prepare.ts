import { containerOf, typeOfHead } from '@/core/kinds';
import type { Mend, Prepared } from '@/core/fit';
import type { MediaTools } from '@/media/medium';
import { fitBy } from '@/media/asking';
import { MEDIA_NODE } from '@/media/node';
import { UserError } from '@/platform/user-error';
import { hasLookThread, lookBeside } from '../looking/look-threads';
import { pixelsOf, tracksBeside } from '../looking/preview';
import { mediaScriptFor } from '../opening/scripts';
import { encodeBeside } from '../looking/texture-threads';

/** What is read or coded is so beside the server. */
const TOOLS: MediaTools = {
  scripts: mediaScriptFor,
  pixelsOf: (bytes, name) => pixelsOf(bytes, name),
  encodeImage: encodeBeside,
  tracksOf: tracksBeside,
};

/** More bytes than this are made ready beside the server; a thread costs more to begin than less takes. */
const MOST_HERE_BYTES = 256 << 10;

/**
 * Makes given bytes ready for a slot, by the first medium that knows the slot; beside the server where there is much to do. Throws
 * UserError where they are not what their name says.
 */
export async function prepare(
  slot: Uint8Array,
  path: string,
  kind: string,
  given: Uint8Array,
  name: string,
  mends: ReadonlySet<Mend>,
): Promise<Prepared> {
  refuseMisnamed(given, name);
  if (hasLookThread() && slot.length + given.length > MOST_HERE_BYTES) {
    const asked = { kind, given, givenName: name, mends: [...mends] };
    return lookBeside('fit', { bytes: slot, name: path, ...asked });
  }
  return fitBy(MEDIA_NODE, { bytes: slot, name: path, kind }, { bytes: given, name }, mends, TOOLS);
}

/** An ending that promises a type which the first bytes do not bear out. */
function refuseMisnamed(given: Uint8Array, name: string): void {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase();
  const promised = ending === 'jpeg' ? 'jpg' : ending;
  const type = typeOfHead(given);
  if (
    !['png', 'jpg', 'webp', 'dds', 'ktx2', 'psd', 'ora', 'bmp', 'wav', 'ogg', 'flac'].includes(promised) ||
    (type && containerOf(type.ending) === promised)
  )
    return;
  const found = type
    ? `those of a ${type.ending.toUpperCase()} file`
    : given.length === 0
      ? 'missing: the file is empty'
      : 'of no such file';
  throw new UserError(
    422,
    `${name} is no ${promised.toUpperCase()} file: its first bytes are ${found}. Nothing was changed. Save it again in the format that its name says, or rename it.`,
  );
}
