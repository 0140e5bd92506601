export {
  isMend,
  MENDS,
  POLICIES,
  under,
  worst,
  type Finding,
  type FitShown,
  type FitState,
  type Mend,
  type MendOffer,
  type Policy,
  type Prepared,
} from './finding';
export { fitPicture, type GivenPicture, type PictureTools } from './fit-picture';
export { fitMedia, type MediaTools, type TracksOf, type WantedSound } from './fit-media';
export { fitSound, type SoundTools } from './fit-sound';
export { fitText } from './fit-text';
