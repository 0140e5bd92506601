export { worst, type Finding, type FitState, type Mend, type Prepared } from './finding';
export { fitPicture } from './fit-picture';
export { fitSound } from './fit-sound';
export { fitText } from './fit-text';
