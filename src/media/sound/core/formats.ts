import type { MediumFormats } from '@/core/kinds/formats';
import { mpegFrameLength } from './mpeg';

/** MPEG sound without a tag: a frame, and another one right behind it where that far was read. */
function isMpegSound(head: Uint8Array): boolean {
  const length = mpegFrameLength(head, 0);
  if (length === 0) return false;
  return length + 3 > head.length || mpegFrameLength(head, length) > 0;
}

/** AAC in frames (ADTS, ISO 13818-7): the layer is 0, the rate is one of thirteen, and the next frame begins where this one ends. */
function isAacFrames(head: Uint8Array): boolean {
  const frame = (at: number): number => {
    const [a = 0, b = 0, c = 0, d = 0, e = 0, f = 0] = head.subarray(at, at + 6);
    if (a !== 0xff || (b & 0xf6) !== 0xf0 || ((c >> 2) & 15) > 12) return 0;
    return ((d & 3) << 11) | (e << 3) | (f >> 5);
  };
  const length = frame(0);
  return length > 6 && (length + 6 > head.length || frame(length) > 6);
}

/** Open formats of sounds. */
export const soundFormats: MediumFormats = {
  signs: [
    ['flac', { at: 0, text: 'fLaC' }],
    ['mp3', { at: 0, text: 'ID3' }],
    ['aif', { at: 0, text: 'FORM' }, { at: 8, text: 'AIF' }],
    ['au', { at: 0, text: '.snd\0\0\0' }],
    ['mid', { at: 0, text: 'MThd\0\0\0\x06' }],
  ],
  riff: { WAVE: 'wav', RMID: 'mid' },
  brands: [[/^(M4A |M4B |M4P )/, 'm4a']],
  ogg: [['OpusHead', 'opus']],
  plain: { ogg: 'ogg' },
  tellers: [
    { first: 0xff, ending: 'mp3', isIt: isMpegSound },
    { first: 0xff, ending: 'aac', isIt: isAacFrames },
  ],
  endings: { signed: 'wav ogg oga opus flac m4a aif aiff au mid midi', unsigned: 'mp3 aac' },
  containers: { opus: 'ogg', oga: 'ogg', m4a: 'mp4' },
  shown: { wav: 'audio/wav', ogg: 'audio/ogg', mp3: 'audio/mpeg', flac: 'audio/flac' },
  namesOthers: false,
};
