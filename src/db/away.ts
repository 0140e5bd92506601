import { ConnectionError } from 'sequelize';

/** SQLSTATE classes of PostgreSQL: 08 is the connection, 57P a server that is shut down or starts. */
const AWAY_STATE = /^(08|57P)/;
const AWAY_CODES = new Set(['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT', 'ENOENT']);
/** What the driver says, without a code, of a connection that broke under a query. */
const AWAY_WORDS = /Connection terminated|connection error and is not queryable|ConnectionManager was closed/;

/**
 * Whether it is the database that could not be reached or went away under a query. Sequelize has no class
 * of its own for the second, so that what lies under its errors is looked at.
 */
export function isDatabaseAway(error: unknown): boolean {
  if (error instanceof ConnectionError) return true;
  if (!(error instanceof Error)) return false;
  const isOfQuery = error.name.startsWith('Sequelize');
  const { code, syscall } = (
    isOfQuery ? ((error as { original?: Error }).original ?? error) : error
  ) as NodeJS.ErrnoException;
  if (AWAY_WORDS.test(error.message)) return true;
  if (code === undefined) return false;
  // A file that is not there has the same code as a socket that is not.
  if (code === 'ENOENT' && syscall !== 'connect') return false;
  return AWAY_CODES.has(code) || AWAY_STATE.test(code);
}
