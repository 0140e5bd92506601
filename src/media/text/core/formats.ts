import type { MediumFormats } from '@/core/kinds/formats';

/** Texts are told by their bytes; endings count where none can be read. */
export const textFormats: MediumFormats = {
  signs: [],
  endings: {
    // A script is a text as often as a film is a transport stream; bytes tell.
    written:
      'txt json csv tsv xml yaml yml ini cfg conf md lua py sh bat html htm css js log toml po srt vtt svg glsl hlsl vert frag',
  },
};
