import mysql2 from 'mysql2';
import { Sequelize } from 'sequelize';
import { readConfig } from '../settings/config';

const HOLDER = globalThis as { yarvoDatabase?: Sequelize };

/** The one connection pool of this process. Kept on the global scope, since the framework may load modules twice. */
export function database(): Sequelize {
  if (!HOLDER.yarvoDatabase) {
    const { host, port, user, password, name } = readConfig().database;
    HOLDER.yarvoDatabase = new Sequelize(name, user, password, {
      dialect: 'mysql',
      dialectModule: mysql2,
      host,
      port,
      logging: false,
      pool: { max: 8, idle: 10_000 },
      dialectOptions: { maxPreparedStatements: 100 },
    });
  }
  return HOLDER.yarvoDatabase;
}

export async function closeDatabase(): Promise<void> {
  await HOLDER.yarvoDatabase?.close();
  HOLDER.yarvoDatabase = undefined;
}
