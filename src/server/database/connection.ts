import mysql2 from 'mysql2';
import { Sequelize } from 'sequelize';
import { readConfig } from '../settings/config';
import { patientDriver } from './patient-driver';

const CONNECT_MS = 5_000;

const HOLDER = globalThis as { yarvoDatabase?: Sequelize };

/** The one connection pool of this process. Kept on the global scope, since the framework may load modules twice. */
export function database(): Sequelize {
  if (!HOLDER.yarvoDatabase) {
    const { host, port, user, password, name, statementMs } = readConfig().database;
    HOLDER.yarvoDatabase = new Sequelize(name, user, password, {
      dialect: 'mysql',
      dialectModule: statementMs === null ? mysql2 : patientDriver(statementMs),
      host,
      port,
      logging: false,
      pool: { max: 8, idle: 10_000, ...(statementMs !== null && { acquire: statementMs }) },
      dialectOptions: { maxPreparedStatements: 100, connectTimeout: CONNECT_MS },
    });
  }
  return HOLDER.yarvoDatabase;
}

export async function closeDatabase(): Promise<void> {
  await HOLDER.yarvoDatabase?.close();
  HOLDER.yarvoDatabase = undefined;
}
