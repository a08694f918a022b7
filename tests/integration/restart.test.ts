import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { createConnection } from 'mysql2/promise';
import { describe, expect, it } from 'vitest';
import { startPrivateDatabase, type PrivateDatabase } from '@/server/database/private-server';
import { terminate } from '@/server/database/terminate';

const connect = (database: PrivateDatabase) =>
  createConnection({
    host: '127.0.0.1',
    port: database.port,
    user: 'yarvo',
    password: database.password,
    database: 'yarvo',
  });

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

  it('ends at once when it is stopped at once, time and again', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-restart-'));
    try {
      for (let i = 0; i < 12; i++) {
        const database = await startPrivateDatabase(folder);
        await database.stop();
        // Only a server that does not hear is killed, after the whole patience of 30 s.
        expect(await database.ended).toBeNull();
      }
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });

  it('kills a process that does not end when asked', async () => {
    const deaf = spawn(
      process.execPath,
      ['-e', "process.on('SIGTERM', () => {}); setInterval(() => {}, 1000); console.log('deaf');"],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    await once(deaf.stdout, 'data');
    await terminate(deaf.pid!, () => deaf.exitCode === null && deaf.signalCode === null, 200);
    expect(deaf.signalCode).toBe('SIGKILL');
  });

  it('ends a database that a killed Yarvo left behind, keeps its data, and leaves one alone whose Yarvo still runs', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-restart-'));
    try {
      const orphan = await startPrivateDatabase(folder);
      let connection = await connect(orphan);
      await connection.query('CREATE TABLE tide (height DOUBLE)');
      await connection.end();
      const note = path.join(folder, 'database-process');
      const [pid] = (await readFile(note, 'utf8')).split(' ');
      // Process 1 always runs: as far as the note says, another Yarvo works here.
      await writeFile(note, `${pid} 1\n`);
      await expect(startPrivateDatabase(folder)).rejects.toThrow(/runs on .* already \(process 1\)/);
      const { pid: dead } = spawnSync('true');
      await writeFile(note, `${pid} ${dead}\n`);
      const next = await startPrivateDatabase(folder);
      await expect(connect(orphan)).rejects.toThrow();
      connection = await connect(next);
      expect(await connection.query('SELECT * FROM tide')).toBeDefined();
      await connection.end();
      await next.stop();
      expect(existsSync(note)).toBe(false);
      // A process number that belongs to something else by now is nobody's database.
      await writeFile(note, `${process.pid} ${dead}\n`);
      await (await startPrivateDatabase(folder)).stop();
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });

  it('listens on loopback only and wants the password', async () => {
    const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-restart-'));
    const database = await startPrivateDatabase(folder);
    try {
      await expect(connect({ ...database, password: 'guess' })).rejects.toThrow(/denied/i);
      const outside = Object.values(os.networkInterfaces())
        .flat()
        .find((address) => address && !address.internal && address.family === 'IPv4');
      if (outside)
        await expect(
          createConnection({
            host: outside.address,
            port: database.port,
            user: 'yarvo',
            password: database.password,
            connectTimeout: 2000,
          }),
        ).rejects.toThrow();
    } finally {
      await database.stop();
      await rm(folder, { recursive: true, force: true });
    }
  });
});
