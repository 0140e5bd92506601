import { FormatError, type FormatErrorCode, type FormatErrorFacts } from '@/core/bytes';
import { UserError } from '../../user-error';

/** What can be asked of the threads of a pool: by its name, what is sent and what comes back. */
export type Requests = Readonly<Record<string, { readonly asks: unknown; readonly gives: unknown }>>;

export interface ToThread {
  readonly id: number;
  readonly sort: string;
  readonly asked: unknown;
}
export type FromThread = { readonly id: number } & (
  { readonly gives: unknown } | { readonly error: ErrorSent }
);

/** What a thread is started with. */
export interface ThreadData {
  /** So many requests are begun at once; the others' time does not run yet. */
  readonly atOnce: number;
}

/** An error as it goes from thread to thread, which keep no classes. */
export type ErrorSent =
  | { readonly sort: 'format'; readonly code: FormatErrorCode; readonly facts: FormatErrorFacts }
  | { readonly sort: 'user'; readonly status: UserError['status']; readonly message: string }
  | { readonly sort: 'other'; readonly message: string };

export function sentError(error: unknown): ErrorSent {
  if (error instanceof FormatError) return { sort: 'format', code: error.code, facts: error.facts };
  if (error instanceof UserError) return { sort: 'user', status: error.status, message: error.message };
  return { sort: 'other', message: error instanceof Error ? (error.stack ?? error.message) : String(error) };
}

export function receivedError(error: ErrorSent): Error {
  if (error.sort === 'format') return new FormatError(error.code, error.facts);
  if (error.sort === 'user') return new UserError(error.status, error.message);
  return new Error(error.message);
}
