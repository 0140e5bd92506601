export { fitMedia, type MediaTools, type TracksOf, type WantedSound } from './fit-media';
export { fitSound, type SoundTools } from './fit-sound';
