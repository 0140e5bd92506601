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
export { fitMedia, type TracksOf } from './fit-media';
export { fitSound, type SoundTools } from './fit-sound';
export { fitText } from './fit-text';
