export { emit, planArchive, type BuildPlan, type FilePlan, type PlanOptions, type Segment } from './plan';
export { planNested } from './plan-nested';
export { planSource } from './plan-source';
export { WAYS, type Way } from './ways';
export { openPlanned, proveArchive, proveBuild, type Claim, type Proof, type ProofProgress } from './prove';
export { matchFile } from './match-file';
export { areHalves, relatedPaths, roleOf, type Role } from './related';
export { planSwap, type SwapPair, type SwapPlan } from './swap';
