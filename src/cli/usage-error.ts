/** The command was called wrongly; exit code 2. */
export class UsageError extends Error {}
