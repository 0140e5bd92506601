import type { Kind } from './kinds';

/**
 * What endings of open formats say. A format of the first table always begins with a sign, so that bytes without one are none, whatever
 * they are called; one of the second has none, or is written as a text.
 */
const SIGNED: Readonly<Partial<Record<Kind, string>>> = {
  picture:
    'png jpg jpeg jpe webp bmp dds gif ktx ktx2 psd ora tif tiff ico cur avif heic exr hdr qoi jp2 jxl',
  sound: 'wav ogg oga opus flac m4a aif aiff au mid midi',
  film: 'mp4 m4v webm mkv avi mov ogv ivf flv wmv',
  model: 'glb',
  archive: 'tar zip gz tgz xz bz2 zst 7z lz4 ar cpio',
  program: 'exe dll so dylib wasm class',
};
const UNSIGNED: Readonly<Partial<Record<Kind, string>>> = {
  picture: 'tga pcx',
  sound: 'mp3 aac',
  film: 'mpg mpeg ts m2ts',
  model: 'gltf obj stl ply fbx dae',
};
/** Texts by their ending, where no bytes can be read. */
const TEXTS =
  'txt json csv tsv xml yaml yml ini cfg conf md lua py sh bat html htm css js ts log toml po srt vtt svg glsl hlsl vert frag';

function table(kinds: Readonly<Partial<Record<Kind, string>>>): Map<string, Kind> {
  return new Map(
    (Object.entries(kinds) as [Kind, string][]).flatMap(([kind, endings]) =>
      endings.split(' ').map((ending) => [ending, kind] as const),
    ),
  );
}
const signed = table(SIGNED);
const unsigned = table(UNSIGNED);
const texts = table({ text: TEXTS });
// A script is a text as often as a film is a transport stream; bytes tell.
texts.delete('ts');

/** The ending of a path in lower case, without its dot; empty for none. */
export function endingOf(path: string): string {
  const dot = path.lastIndexOf('.');
  return dot <= path.lastIndexOf('/') ? '' : path.slice(dot + 1).toLowerCase();
}

/** What a name says by itself, where nothing is known of the bytes. */
export const kindOfEnding = (path: string): Kind | undefined => {
  const ending = endingOf(path);
  return signed.get(ending) ?? unsigned.get(ending) ?? texts.get(ending);
};

/** What a name says of bytes that begin with no sign of any format and are no text. */
export const kindOfUnsigned = (path: string): Kind | undefined => unsigned.get(endingOf(path));

/** Models that are written as texts; any other text is a text whatever it is called. */
const WRITTEN = new Set(['gltf', 'obj', 'stl', 'ply', 'dae', 'fbx']);
export const kindOfWritten = (path: string): Kind => (WRITTEN.has(endingOf(path)) ? 'model' : 'text');
