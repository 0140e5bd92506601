/** Names that ffmpeg has for what reads a form. */
const NAME = /^[a-z0-9_]{1,40}$/;
/** Forms that are lists of other files, streams of a network, or written in a language of their own: none of them is only the bytes that it is. */
const OPENS_OTHERS =
  /^(?:avisynth|concat.*|dash|.*_manifest|ffmetadata|hls|image2.*|imf|lavfi|mlv|rtp|rtsp|sap|sdp|vapoursynth|vobsub)$/;

export const isReaderName = (name: string): boolean => NAME.test(name);
/** Whether what such a reader reads is a sound or film by itself, and names no others. */
export const readsItAlone = (name: string): boolean => !OPENS_OTHERS.test(name);
