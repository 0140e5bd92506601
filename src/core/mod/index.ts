export { emit, planArchive, type BuildPlan, type FilePlan, type PlanOptions, type Segment } from './plan';
export { planNested } from './plan-nested';
export { planSource } from './plan-source';
export { WAYS, type Way } from './ways';
export { openPlanned, proveArchive, proveBuild, type Claim, type Proof, type ProofProgress } from './prove';
