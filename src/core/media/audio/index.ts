export { readWave, readWaveFacts, remix, resample, writeWave16, type Sound, type WaveFacts } from './wave';
