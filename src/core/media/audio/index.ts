export { decodedLength, type DecodedLength } from './decoded-length';
export { readWave, readWaveFacts, remix, resample, writeWave16, type Sound, type WaveFacts } from './wave';
