import { EventEmitter } from 'node:events';
import pg from 'pg';
import { databaseUrl } from '@/db';
import { log } from '../../log';
import { JOB_CHANNEL } from './kinds';

declare global {
  var zeroLatchEvents: EventEmitter | undefined;
}

const RETRY_MS = 2000;

/** Emits 'job' with the id whenever a job moves, and 'lost' and 'back' with the database. */
export function jobEvents(): EventEmitter {
  if (globalThis.zeroLatchEvents) return globalThis.zeroLatchEvents;
  const emitter = new EventEmitter().setMaxListeners(0);
  globalThis.zeroLatchEvents = emitter;
  const listen = async (): Promise<void> => {
    const client = new pg.Client({ connectionString: databaseUrl() });
    const again = (): void => {
      client.removeAllListeners();
      client.on('error', () => undefined);
      void client.end().catch(() => undefined);
      emitter.emit('lost');
      setTimeout(() => void listen(), RETRY_MS).unref();
    };
    try {
      await client.connect();
      client.on('notification', ({ payload }) => emitter.emit('job', payload));
      client.once('error', again);
      await client.query(`LISTEN ${JOB_CHANNEL}`);
      emitter.emit('back');
    } catch (error) {
      log.warn({ error: error instanceof Error ? error.message : String(error) }, 'events');
      again();
    }
  };
  void listen();
  return emitter;
}
