import { FormatError } from '../bytes';
import type { Located } from './model';

/** Adds to an error where it happened, which is worked out only then. */
export function withPlace(error: unknown, path: () => string, place?: () => Located): unknown {
  return error instanceof FormatError ? error.with({ fieldPath: path(), ...place?.() }) : error;
}
