export {
  isMend,
  MENDS,
  POLICIES,
  under,
  worst,
  type Finding,
  type FitState,
  type Mend,
  type MendOffer,
  type Policy,
  type Prepared,
} from './finding';
export { fitPicture, type GivenPicture, type PictureTools } from './fit-picture';
export { fitSound } from './fit-sound';
export { fitText } from './fit-text';
