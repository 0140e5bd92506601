export { emit, planArchive, type BuildPlan, type PlanOptions, type Segment } from './plan';
export { planSource } from './plan-source';
export { proveArchive, proveBuild, type Claim, type Proof, type ProofProgress } from './prove';
