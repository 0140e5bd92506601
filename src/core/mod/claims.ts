import { FormatError } from '../bytes';
import type { BuildPlan } from './plan';

/** One claim of a proof and whether it holds. */
export interface Claim {
  readonly claim: string;
  readonly holds: boolean;
  readonly detail: string;
}

export interface Proof {
  readonly holds: boolean;
  readonly claims: readonly Claim[];
}

export type ProofProgress = (done: number, total: number, what: string) => void;

/** A claim that does not hold where its work throws FormatError. */
export function attempt(claim: string, work: () => Omit<Claim, 'claim'>): Claim {
  try {
    return { claim, ...work() };
  } catch (error) {
    if (error instanceof FormatError) return { claim, holds: false, detail: error.message };
    throw error;
  }
}

export function withPlan<T, P extends Pick<BuildPlan, 'discard'>>(plan: P, work: (plan: P) => T): T {
  try {
    return work(plan);
  } finally {
    plan.discard();
  }
}
