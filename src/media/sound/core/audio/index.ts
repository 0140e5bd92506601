export { isAdpcmWave, openAdpcmWave } from './adpcm-wave';
export { decodedLength, heardFrames, type DecodedLength } from './decoded-length';
export { measureWave, type SoundMeasure } from './measure';
export { loudnessOf, signalToNoise, type Loudness } from './level';
export {
  formOf,
  otherChunks,
  plainForm,
  readWave,
  waveFile,
  withChunks,
  writeWave,
  type Sound,
  type WaveForm,
} from './wave';
export { readWaveFacts, type SampleSort, type WaveFacts } from './wave-head';
export {
  describedSound,
  openSound,
  soundSpecOf,
  type DecodeCoded,
  type SoundSpec,
  type WrappedSound,
} from './wrapped-sound';
export type { Coding } from './described-samples';
export type { WayTaken } from './likeliest-way';
export { cuesOf, isMark, loopsOf, markChunks, movedMarks, type Loop, type NewChunk } from './wave-marks';
