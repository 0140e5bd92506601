export {
  isMend,
  POLICIES,
  under,
  worst,
  type Finding,
  type FitShown,
  type FitState,
  type Mend,
  type Policy,
  type Prepared,
} from './finding';
export {
  errorSaid,
  findingsOf,
  keptError,
  worded,
  type ErrorKept,
  type WordedFinding,
  type Wording,
  type Words,
} from './wording';
