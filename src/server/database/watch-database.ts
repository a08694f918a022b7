import mysql2, { type Connection } from 'mysql2';
import { readConfig } from '../settings/config';
import { processWide } from '../settings/process-wide';
import { databaseStatus, setDatabaseStatus, type DatabaseStatus } from './database-status';

/** Who asks for the health is answered well within five seconds, whatever hangs. */
const PATIENCE_MS = 3_500;

interface Watch {
  connection: Connection | null;
  asking: Promise<boolean> | null;
}
const watch = processWide('database watch', (): Watch => ({ connection: null, asking: null }));

/**
 * Whether the database answers now. Asked over a connection of its own: those of the pool may all be waiting. Many who
 * ask at the same moment share one question.
 */
export function isDatabaseThere(): Promise<boolean> {
  watch.asking ??= ask().finally(() => (watch.asking = null));
  return watch.asking;
}

function ask(): Promise<boolean> {
  return new Promise((resolve) => {
    const end = (isThere: boolean) => {
      clearTimeout(timer);
      if (!isThere) {
        watch.connection?.destroy();
        watch.connection = null;
      }
      sayStandstill(isThere);
      resolve(isThere);
    };
    const timer = setTimeout(() => end(false), PATIENCE_MS);
    watch.connection ??= connect();
    watch.connection.query('SELECT 1', (error) => end(!error));
  });
}

function connect(): Connection {
  const { host, port, user, password, name: database } = readConfig().database;
  const connection = mysql2.createConnection({ host, port, user, password, database, connectTimeout: PATIENCE_MS });
  connection.on('error', () => {
    if (watch.connection === connection) watch.connection = null;
  });
  return connection;
}

const STANDSTILL = 'It does not answer: Yarvo waits until it goes on.';

/** The supervisor says when the database ended; that it stands still is found here. */
function sayStandstill(isThere: boolean): void {
  const known = databaseStatus();
  if (isThere) {
    if (known?.doing === STANDSTILL) setDatabaseStatus(null);
  } else if (!known) {
    const status: DatabaseStatus = {
      since: new Date().toISOString(),
      doing: STANDSTILL,
      isDiskFull: false,
      lastWords: [],
    };
    setDatabaseStatus(status);
  }
}
