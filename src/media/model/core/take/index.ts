export { stemFor } from './called';
export { regreyed, saysAnything } from './greys';
export { GREY_USES, Greys, TakeSettings, TAKE_ENDINGS, type GreyUse } from './settings';
export { takenForm, type Taken, type TakenClip } from './take';
export { isUnnamed, withColours } from './worn';
