export {
  editEntries,
  likeliest,
  type AddedEntry,
  type EditedArchive,
  type EntryEdits,
} from './edit/edit-entries';
export { RowCopier, type CopiedRow } from './edit/copy-rows';
export type { WithinEdit } from './edit/write-within';
export { listAround, listsMentioned, type ListPlace } from './edit/list-places';
export type { EditMarks } from './edit/edit-marks';
export { codecsOf, otherCodecs, type RowValues } from './edit/recode';
export { withRecoded } from './edit/with-recoded';
export { newPieces, unitsASecond } from './edit/repiece';
export { emit, planArchive, type BuildPlan, type FilePlan, type PlanOptions, type Segment } from './plan';
export {
  planNested,
  proveNested,
  refuseFalse,
  type NestedPlan,
  type OpenAtDepth,
  type PlannedLevel,
} from './plan-nested';
export { planSource } from './plan-source';
export { BUILD_WAYS, type BuildWay } from './build-ways';
export { WAYS, type Way } from './ways';
export { openPlanned } from './open-planned';
export { proveArchive } from './prove';
export {
  proveBuild,
  type BuildClaims,
  type BuildProof,
  type Damaged,
  type ProveBuildOptions,
} from './prove-build';
export type { Claim, Proof, ProofProgress } from './claims';
export { matchFile } from './match-file';
export { matchMany, type FileMatch, type MatchedBy } from './match-many';
export { areHalves, relatedPaths, ROLE_NAMES, roleOf, type Role } from './related';
export { planSwap, type SwapPair, type SwapPlan } from './swap';
export { conflictKey, mixChanges, type Conflict, type MixedChange } from './mix';
export { listedHash, readListing, type Listing } from './listing';
