import { AsyncLocalStorage } from 'node:async_hooks';
import pg from 'pg';
import { Sequelize } from 'sequelize';

declare global {
  var zeroLatchDatabase: Sequelize | undefined;
}

/** Address of the server; bin/start sets it for the cluster that it runs. */
export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set; start the application with bin/start');
  return url;
}

/**
 * Queries inside the work of a transaction belong to it without being told so. Sequelize asks for a namespace of this shape.
 */
function joinTransactions(): void {
  const held = new AsyncLocalStorage<Map<string, unknown>>();
  Sequelize.useCLS({
    get: (key: string) => held.getStore()?.get(key),
    set: (key: string, value: unknown) => held.getStore()?.set(key, value),
    run(work: (context: unknown) => unknown) {
      const context = new Map(held.getStore());
      held.run(context, () => work(context));
      return context;
    },
    bind: (work: (...args: unknown[]) => unknown, context?: Map<string, unknown>) => {
      const own = context ?? held.getStore() ?? new Map<string, unknown>();
      return (...args: unknown[]) => held.run(own, () => work(...args));
    },
  });
}

/** The one connection pool of this process; kept on the global object since Next.js loads modules twice. */
export function database(): Sequelize {
  if (!globalThis.zeroLatchDatabase) joinTransactions();
  globalThis.zeroLatchDatabase ??= new Sequelize(databaseUrl(), {
    dialect: 'postgres',
    dialectModule: pg,
    logging: false,
    pool: { max: 8, acquire: 10_000, idle: 10_000 },
    define: { underscored: true },
  });
  return globalThis.zeroLatchDatabase;
}
