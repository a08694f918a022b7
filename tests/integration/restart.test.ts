import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { createConnection } from 'mysql2/promise';
import { describe, expect, it } from 'vitest';
import { startPrivateDatabase, type PrivateDatabase } from '@/server/database/private-server';

const connect = (database: PrivateDatabase) => createConnection({ host: '127.0.0.1', port: database.port, user: 'yarvo', password: database.password, database: 'yarvo' });

describe('the private database server', () => {
  it('keeps its data over a stop and a start, and leaves no process behind', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-restart-'));
    try {
      const first = await startPrivateDatabase(folder);
      let connection = await connect(first);
      await connection.query('CREATE TABLE tide (height DOUBLE)');
      await connection.query('INSERT INTO tide VALUES (1.25)');
      await connection.end();
      await first.stop();
      await expect(connect(first)).rejects.toThrow();
      const second = await startPrivateDatabase(folder);
      connection = await connect(second);
      const [rows] = await connection.query('SELECT height FROM tide');
      expect(rows).toEqual([{ height: 1.25 }]);
      await connection.end();
      await second.stop();
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });

  it('listens on loopback only and wants the password', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-restart-'));
    const database = await startPrivateDatabase(folder);
    try {
      await expect(connect({ ...database, password: 'guess' })).rejects.toThrow(/denied/i);
      const outside = Object.values(os.networkInterfaces()).flat().find((address) => address && !address.internal && address.family === 'IPv4');
      if (outside) await expect(createConnection({ host: outside.address, port: database.port, user: 'yarvo', password: database.password, connectTimeout: 2000 })).rejects.toThrow();
    } finally {
      await database.stop();
      await rm(folder, { recursive: true, force: true });
    }
  });
});
