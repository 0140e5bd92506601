import { describe, expect, test } from '@jest/globals';
import { ConnectionRefusedError, DatabaseError, UniqueConstraintError } from 'sequelize';
import { isDatabaseAway } from './away';

const under = (message: string, code?: string): DatabaseError =>
  new DatabaseError(Object.assign(new Error(message), { sql: 'SELECT 1', code }));

describe('a database that is away', () => {
  test.each([
    ['refuses', new ConnectionRefusedError(new Error('connect ECONNREFUSED'))],
    ['breaks off under a query without a code', under('Connection terminated unexpectedly')],
    ['breaks off under a query with the code of the socket', under('read ECONNRESET', 'ECONNRESET')],
    ['is shut down', under('terminating connection due to administrator command', '57P01')],
    ['starts', under('the database system is starting up', '57P03')],
    [
      'left a client that cannot be used',
      under('Client has encountered a connection error and is not queryable'),
    ],
    ['has no socket', Object.assign(new Error('connect ENOENT'), { code: 'ENOENT', syscall: 'connect' })],
  ])('%s', (_, error) => expect(isDatabaseAway(error)).toBe(true));

  test.each([
    ['a file that is not there', Object.assign(new Error('open'), { code: 'ENOENT', syscall: 'open' })],
    ['a value that is taken', new UniqueConstraintError({})],
    ['a wrong query', under('syntax error', '42601')],
    ['something else', new TypeError('x is not a function')],
    ['no error', 'Connection terminated'],
  ])('is not taken for %s', (_, error) => expect(isDatabaseAway(error)).toBe(false));
});
