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
export { fitPicture, type GivenPicture, type PictureTools } from '@/media/picture/core/fit/fit-picture';
export { fitMedia, type MediaTools, type TracksOf, type WantedSound } from '@/media/sound/core/fit/fit-media';
export { fitSound, type SoundTools } from '@/media/sound/core/fit/fit-sound';
export { fitText } from '@/media/text/core/fit-text';
