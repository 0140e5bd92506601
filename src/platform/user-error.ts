/** Something the user can understand and mend; the message says what, why and what to do next. */
export class UserError extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 410 | 413 | 422 | 428 | 507,
    message: string,
  ) {
    super(message);
    this.name = 'UserError';
  }
}

export const notFound = (what: string): UserError =>
  new UserError(404, `${what} is not there; it may have been removed.`);
