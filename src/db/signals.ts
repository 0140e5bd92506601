import pg from 'pg';
import { databaseUrl } from './database';
import { models } from './models';

/** Tells every process that listens on a channel. */
export async function notify(channel: string, payload: string): Promise<void> {
  await models().query('SELECT pg_notify($1, $2)', { bind: [channel, payload] });
}

/** Waits until no other transaction holds this lock, and holds it to the end of the one that is under way. */
export async function lockTransaction(space: number, id: number): Promise<void> {
  await models().query('SELECT pg_advisory_xact_lock($1, $2)', { bind: [space, id] });
}

/** A connection whose end gives back the lock that it took, so that a kill leaves none. */
export class LockConnection {
  private constructor(private readonly client: pg.Client) {}

  static async open(): Promise<LockConnection> {
    const client = new pg.Client({ connectionString: databaseUrl(), application_name: 'zero-latch lock' });
    // Whoever holds a lock finds out in another way when the connection is lost.
    client.on('error', () => undefined);
    await client.connect();
    return new LockConnection(client);
  }

  /** Takes a lock if nobody has it. */
  async take(space: number, id: number): Promise<boolean> {
    const { rows } = await this.client.query<{ held: boolean }>(
      'SELECT pg_try_advisory_lock($1, $2) AS held',
      [space, id],
    );
    return rows[0]!.held;
  }

  async end(): Promise<void> {
    await this.client.end().catch(() => undefined);
  }
}
