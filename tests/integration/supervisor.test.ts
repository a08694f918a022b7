import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { isAlive } from '@/server/database/orphan';
import { findFreePort, startPrivateDatabase } from '@/server/database/private-server';
import { removeStaleRunFolders } from '@/server/database/run-folders';
import { BackOff } from '@/cli/serve/back-off';
import { tryLock } from '@/cli/serve/lock';
import { readOptions } from '@/cli/serve/options';
import { prepareFolder } from '@/cli/serve/preflight';
import { sentenceOf, StartError } from '@/cli/serve/start-error';

const ROOT = path.resolve(import.meta.dirname, '../..');
const folders: string[] = [];
const newFolder = async () => {
  const folder = await mkdtemp(path.join(os.tmpdir(), 'yarvo-supervisor-'));
  folders.push(folder);
  return folder;
};
afterAll(() => Promise.all(folders.map((folder) => rm(folder, { recursive: true, force: true }))));

const options = async (data: string, more: string[] = []) =>
  readOptions(['--port', String(await findFreePort()), '--data', data, ...more], {} as NodeJS.ProcessEnv, ROOT);
const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    expect(error).toBeInstanceOf(StartError);
    return (error as Error).message;
  }
  throw new Error('it was not refused');
};

describe('the command line', () => {
  it.each([
    [['--bogus'], {}, /Unknown option '--bogus'.*Usage:/],
    [['stray'], {}, /stray.*Usage:/],
    [['--port'], {}, /--port.*Usage:/],
    [['--port', '70000'], {}, /--port 70000 is not a port/],
    [['--port', '4e3'], {}, /--port 4e3 is not a port/],
    [['--host', 'a b'], {}, /--host a b is not an address/],
    [['--host', '0.0.0.0'], {}, /set YARVO_PASSWORD/],
    [['--host', '::'], {}, /set YARVO_PASSWORD/],
    [['--host', '0.0.0.0'], { YARVO_PASSWORD: 'short' }, /YARVO_PASSWORD has fewer than 10/],
  ])('%j with %j is one sentence', (args, environment, sentence) => {
    const message = refusal(() => readOptions(args, environment as unknown as NodeJS.ProcessEnv, ROOT));
    expect(message).toMatch(sentence);
    expect(message).not.toContain('\n');
  });

  it('takes another address only with a password', () => {
    const environment = { YARVO_PASSWORD: 'a long password' } as unknown as NodeJS.ProcessEnv;
    expect(readOptions(['--host', '0.0.0.0'], environment, ROOT)).toMatchObject({
      host: '0.0.0.0',
      password: 'a long password',
    });
    expect(readOptions(['--host', '[::1]'], {} as NodeJS.ProcessEnv, ROOT)).toMatchObject({
      host: '::1',
      password: undefined,
    });
  });
});

describe('before anything is set up', () => {
  it('a port in use is said, and no folder is made', async () => {
    const data = path.join(await newFolder(), 'data');
    const taken = createServer();
    const port = await new Promise<number>((resolve) =>
      taken.listen(0, '127.0.0.1', () => resolve((taken.address() as { port: number }).port)),
    );
    await expect(prepareFolder({ ...(await options(data)), port }, () => {})).rejects.toThrow(
      `Port ${port} is in use by another program.`,
    );
    expect(existsSync(data)).toBe(false);
    taken.close();
  });

  it('of two starts on one folder the second is refused, also by another name of it', async () => {
    const data = await newFolder();
    const lock = await prepareFolder(await options(data), () => {});
    const link = `${data}-link`;
    spawnSync('ln', ['-s', data, link]);
    folders.push(link);
    for (const name of [data, link])
      await expect(prepareFolder(await options(name), () => {})).rejects.toThrow(/runs on .* already/);
    lock.release();
    (await prepareFolder(await options(data), () => {})).release();
  });

  it('of two starts on one port the second is refused, though nobody listens yet', async () => {
    const first = await options(await newFolder());
    const second = { ...(await options(path.join(await newFolder(), 'data'))), port: first.port };
    const lock = await prepareFolder(first, () => {});
    await expect(prepareFolder(second, () => {})).rejects.toThrow(`Port ${first.port} is in use`);
    expect(existsSync(second.data)).toBe(false);
    lock.release();
    (await prepareFolder(second, () => {})).release();
  });

  it('a lock ends with the process that held it, however that died', async () => {
    const holder = spawn(
      process.execPath,
      [
        '--import',
        'tsx',
        '-e',
        `import { tryLock } from '${ROOT}/src/cli/serve/lock.ts'; await tryLock('test', 'x'); setInterval(() => {}, 1000); console.log('held');`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'], cwd: ROOT },
    );
    await new Promise((resolve) => holder.stdout.once('data', resolve));
    expect(await tryLock('test', 'x')).toBeNull();
    holder.kill('SIGKILL');
    await new Promise((resolve) => holder.once('exit', resolve));
    const lock = await tryLock('test', 'x');
    expect(lock).not.toBeNull();
    lock?.release();
  });

  it("a file in place of the folder, and --fresh on somebody else's folder, are one sentence", async () => {
    const folder = await newFolder();
    await writeFile(path.join(folder, 'notes.txt'), 'tide tables');
    await expect(prepareFolder(await options(path.join(folder, 'notes.txt')), () => {})).rejects.toThrow(
      /is not a folder/,
    );
    await expect(prepareFolder(await options(folder, ['--fresh']), () => {})).rejects.toThrow(/was not made by Yarvo/);
    expect(await readFile(path.join(folder, 'notes.txt'), 'utf8')).toBe('tide tables');
  });

  it.each([
    ['ENOSPC', /^The disk is full .*make room/],
    ['EROFS', /^The disk can only be read/],
    ['EACCES', /^Yarvo may not write there/],
  ])('%s is one sentence', (code, sentence) => {
    expect(sentenceOf(Object.assign(new Error('x\ny'), { code, path: '/srv/data' }))).toMatch(sentence);
  });
});

describe('what a killed Yarvo left behind', () => {
  it('is ended by the next start, which says so, and its folders are removed', async () => {
    const data = await newFolder();
    const port = await findFreePort();
    // A web server of this folder that nobody looks after any more, still on its port.
    const web = spawn(
      process.execPath,
      [
        '-e',
        `require('net').createServer().listen(${port}, '127.0.0.1', () => console.log('ready'))`,
        '--',
        `--yarvo-data=${data}`,
      ],
      { stdio: ['ignore', 'pipe', 'ignore'] },
    );
    await new Promise((resolve) => web.stdout.once('data', resolve));
    const { pid: dead } = spawnSync('true');
    await writeFile(path.join(data, 'web-process'), `${web.pid} ${dead}\n`);
    const said: string[] = [];
    const lock = await prepareFolder({ ...(await options(data)), port }, (text) => said.push(text));
    expect(said).toEqual(['ended a web server that a killed Yarvo had left running']);
    expect(isAlive(web.pid as number)).toBe(false);
    lock.release();

    const stale = await mkdtemp(path.join(os.tmpdir(), 'yarvo-db-'));
    await writeFile(path.join(stale, 'owner'), `${dead}\n`);
    await writeFile(path.join(stale, 'init.sql'), 'a password');
    await removeStaleRunFolders();
    expect(existsSync(stale)).toBe(false);
  });

  it('a database ends with the process that started it, and its password lies nowhere but in its own file', async () => {
    const data = await newFolder();
    const starter: ChildProcess = spawn(
      process.execPath,
      [
        '--import',
        'tsx',
        '-e',
        `import { startPrivateDatabase } from '${ROOT}/src/server/database/private-server.ts'; const { pid } = await startPrivateDatabase('${data}'); setInterval(() => {}, 1000); console.log(pid);`,
      ],
      { stdio: ['ignore', 'pipe', 'inherit'], cwd: ROOT },
    );
    const pid = Number(await new Promise((resolve) => starter.stdout?.once('data', resolve)));
    expect(isAlive(pid)).toBe(true);
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8');
    const runFolder = path.dirname(/--socket=([^\0]+)/.exec(command)?.[1] ?? '');
    expect(existsSync(path.join(runFolder, 'init.sql'))).toBe(false);
    starter.kill('SIGKILL');
    for (let tries = 0; tries < 600 && isAlive(pid); tries++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(isAlive(pid)).toBe(false);
    const next = await startPrivateDatabase(data);
    await next.stop();
  });

  it('a database that is killed says so, and starts again on the same port', async () => {
    const data = await newFolder();
    const first = await startPrivateDatabase(data);
    process.kill(first.pid, 'SIGKILL');
    await first.ended;
    const second = await startPrivateDatabase(data, { port: first.port });
    expect(second.port).toBe(first.port);
    expect(second.lastWords().join(' ')).toMatch(/ready for connections|Version/i);
    await second.stop();
  });
});

it('whatever ends again and again is waited for longer and longer, and what held for a minute is forgiven', () => {
  const backOff = new BackOff();
  expect([10, 10, 10, 10, 10, 10, 10].map((ran) => backOff.next(ran))).toEqual([0, 500, 1000, 2000, 4000, 8000, 8000]);
  expect(backOff.count).toBe(7);
  expect([120_000, 10].map((ran) => backOff.next(ran))).toEqual([0, 500]);
});
