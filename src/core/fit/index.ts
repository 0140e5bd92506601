export {
  isMend,
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
