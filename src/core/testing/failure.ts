import { FormatError } from '../bytes';

/** The error that something is refused with; what throws nothing, or another one, fails the test. */
export function failure(work: () => unknown): FormatError {
  try {
    work();
  } catch (error) {
    if (error instanceof FormatError) return error;
    throw error;
  }
  throw new Error('Nothing was refused.');
}

export const whyNot = (work: () => unknown): string => failure(work).message;
