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

/** The one connection pool of this process; kept on the global object since Next.js loads modules twice. */
export function database(): Sequelize {
  globalThis.zeroLatchDatabase ??= new Sequelize(databaseUrl(), {
    dialect: 'postgres',
    dialectModule: pg,
    logging: false,
    pool: { max: 8, acquire: 10_000, idle: 10_000 },
    define: { underscored: true },
  });
  return globalThis.zeroLatchDatabase;
}
