export type Kind = 'picture' | 'sound' | 'text' | 'data';

const PICTURES = new Set(['sheet', 'png', 'jpg', 'jpeg', 'webp', 'bmp', 'tga', 'dds', 'gif']);
const SOUNDS = new Set(['wav', 'ogg', 'opus', 'mp3', 'flac', 'm4a']);
const TEXTS = new Set([
  'txt',
  'lines',
  'json',
  'csv',
  'xml',
  'yaml',
  'yml',
  'ini',
  'cfg',
  'md',
  'scene',
  'lua',
]);

/** What a name says a thing is; `kindOfHead` knows better once bytes can be read. */
export function kindOfPath(path: string): Kind {
  const ending = path.slice(path.lastIndexOf('.') + 1).toLowerCase();
  if (PICTURES.has(ending)) return 'picture';
  if (SOUNDS.has(ending)) return 'sound';
  return TEXTS.has(ending) ? 'text' : 'data';
}

/** A file type told from its first bytes, with the ending that such files usually bear. */
export interface HeadType {
  readonly kind: Kind;
  readonly ending: string;
}

const HEADS: readonly { at: number; text: string; type: HeadType }[] = [
  { at: 0, text: '\x89PNG\r\n\x1a\n', type: { kind: 'picture', ending: 'png' } },
  { at: 0, text: '\xff\xd8\xff', type: { kind: 'picture', ending: 'jpg' } },
  { at: 8, text: 'WEBP', type: { kind: 'picture', ending: 'webp' } },
  { at: 0, text: 'DDS ', type: { kind: 'picture', ending: 'dds' } },
  { at: 8, text: 'WAVE', type: { kind: 'sound', ending: 'wav' } },
  { at: 0, text: 'OggS', type: { kind: 'sound', ending: 'ogg' } },
  { at: 0, text: 'fLaC', type: { kind: 'sound', ending: 'flac' } },
  { at: 0, text: 'ID3', type: { kind: 'sound', ending: 'mp3' } },
];

/** The type of a file by its first bytes, or undefined where they say nothing. */
export function typeOfHead(head: Uint8Array): HeadType | undefined {
  for (const { at, text, type } of HEADS) {
    if (head.length < at + text.length) continue;
    if ([...text].every((sign, i) => head[at + i] === sign.charCodeAt(0))) return type;
  }
  return undefined;
}
