/** What an entry is for its user. */
export const KINDS = ['picture', 'sound', 'film', 'model', 'text', 'archive', 'program', 'data'] as const;
export type Kind = (typeof KINDS)[number];

const ENDINGS: Readonly<Partial<Record<Kind, string>>> = {
  picture: 'sheet png jpg jpeg webp bmp tga dds gif ktx ktx2 psd ora tif tiff ico avif',
  sound: 'wav ogg opus mp3 flac m4a aac aif aiff',
  film: 'mp4 webm mkv avi mov ogv ivf spool',
  model: 'glb gltf obj stl ply fbx dae form gait',
  text: 'txt lines json csv tsv xml yaml yml ini cfg md scene lua html css js log names toml po srt vtt',
  archive: 'zip tar gz xz bz2 zst hold 7z cpio',
  program: 'exe dll so dylib bin',
};

const KIND_BY_ENDING = new Map(
  KINDS.flatMap((kind) => (ENDINGS[kind] ?? '').split(' ').map((ending) => [ending, kind] as const)),
);

/** What a name says a thing is; `typeOfHead` knows better once bytes can be read. */
export function kindOfPath(path: string): Kind {
  const dot = path.lastIndexOf('.');
  if (dot <= path.lastIndexOf('/')) return 'data';
  return KIND_BY_ENDING.get(path.slice(dot + 1).toLowerCase()) ?? 'data';
}

/** A file type told from its first bytes, with the ending that such files usually bear. */
export interface HeadType {
  readonly kind: Kind;
  readonly ending: string;
}

const HEADS: readonly { at: number; text: string; also?: { at: number; text: string }; type: HeadType }[] = [
  { at: 0, text: '\x89PNG\r\n\x1a\n', type: { kind: 'picture', ending: 'png' } },
  { at: 0, text: '\xff\xd8\xff', type: { kind: 'picture', ending: 'jpg' } },
  { at: 8, text: 'WEBP', type: { kind: 'picture', ending: 'webp' } },
  { at: 0, text: 'DDS ', type: { kind: 'picture', ending: 'dds' } },
  { at: 0, text: '\xabKTX 20\xbb\r\n\x1a\n', type: { kind: 'picture', ending: 'ktx2' } },
  { at: 0, text: '8BPS\0\x01', type: { kind: 'picture', ending: 'psd' } },
  // Two letters are little; the four bytes behind the length must be zero.
  { at: 0, text: 'BM', also: { at: 6, text: '\0\0\0\0' }, type: { kind: 'picture', ending: 'bmp' } },
  { at: 30, text: 'mimetypeimage/openraster', type: { kind: 'picture', ending: 'ora' } },
  { at: 8, text: 'WAVE', type: { kind: 'sound', ending: 'wav' } },
  { at: 0, text: 'OggS', type: { kind: 'sound', ending: 'ogg' } },
  { at: 0, text: 'fLaC', type: { kind: 'sound', ending: 'flac' } },
  { at: 0, text: 'ID3', type: { kind: 'sound', ending: 'mp3' } },
  { at: 0, text: 'GIF8', type: { kind: 'picture', ending: 'gif' } },
  { at: 0, text: '\x1aE\xdf\xa3', type: { kind: 'film', ending: 'mkv' } },
  { at: 0, text: 'DKIF', type: { kind: 'film', ending: 'ivf' } },
  { at: 4, text: 'ftyp', type: { kind: 'film', ending: 'mp4' } },
  { at: 0, text: 'glTF', type: { kind: 'model', ending: 'glb' } },
  { at: 0, text: 'PK\x03\x04', type: { kind: 'archive', ending: 'zip' } },
];

/** The type of a file by its first bytes, or undefined where they say nothing. */
export function typeOfHead(head: Uint8Array): HeadType | undefined {
  const has = ({ at, text }: { at: number; text: string }): boolean =>
    head.length >= at + text.length && [...text].every((sign, i) => head[at + i] === sign.charCodeAt(0));
  return HEADS.find(({ at, text, also }) => has({ at, text }) && (!also || has(also)))?.type;
}
